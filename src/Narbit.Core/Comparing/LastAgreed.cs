using System.Text.Json.Serialization;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>What both sides last agreed on, in the target's terms.</summary>
/// <param name="Value">The value, or null for none.</param>
public sealed record LastAgreed(string? Value);
