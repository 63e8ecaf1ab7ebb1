using Narbit.Core.Mapping;

namespace Narbit.Core.Comparing;

/// <summary>One field of a pair, mapped and compared.</summary>
/// <param name="Field">The field with its chain.</param>
/// <param name="Here">The value by the map.</param>
/// <param name="There">The target's value.</param>
/// <param name="Verdict">What is to be done.</param>
/// <param name="Back">Where the target's value is taken back: the source's new value.</param>
public readonly record struct MappedField(ReadyField Field, string? Here, string? There, FieldVerdict Verdict, string? Back);
