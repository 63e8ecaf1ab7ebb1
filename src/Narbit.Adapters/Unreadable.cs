using System.Text.Json;
using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>Says why a description could not be read, in the same words for every adapter.</summary>
internal static class Unreadable
{
    /// <summary>The reason, with the path where the reader names one.</summary>
    public static Reason Document(JsonException error) =>
        new("document.unreadable", $"The description could not be read: {RuleJson.Explain(error)}.");
}
