using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>A field that a lane reads or writes.</summary>
/// <param name="OfSource">Whether it is the source's; otherwise the target's.</param>
/// <param name="Kind">The kind of record that has it.</param>
/// <param name="Field">Its name.</param>
public readonly record struct FieldUse(bool OfSource, RecordKind Kind, string Field);
