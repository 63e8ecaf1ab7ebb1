using System.Text.Json;
using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>Says why a description could not be read, in the same words for every adapter.</summary>
internal static class Unreadable
{
    /// <summary>A list of it has nothing where a value should be.</summary>
    public static Reason NothingInAList { get; } =
        new("document.unreadable", "The description could not be read: a list in it has nothing (null) where a value should be.");

    /// <summary>The reason, with the path where the reader names one.</summary>
    public static Reason Document(JsonException error) =>
        new("document.unreadable", $"The description could not be read: {RuleJson.Explain(error)}.");
}
