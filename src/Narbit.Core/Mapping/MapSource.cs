namespace Narbit.Core.Mapping;

/// <summary>The source of a target field: fields of a record, or a constant.</summary>
/// <param name="Fields">Names of fields; several give a list, in this order, without the missing ones.</param>
/// <param name="Constant">A constant instead of fields.</param>
/// <param name="Record">The record that has the fields.</param>
public sealed record MapSource(IReadOnlyList<string>? Fields = null, string? Constant = null, SourceRecord Record = SourceRecord.Own);
