namespace Narbit.Engine.People;

/// <summary>All that Narbit keeps of a person.</summary>
public sealed record PersonData(string Who, IReadOnlyList<PersonRecord> Records, IReadOnlyList<PersonWrite> Writes);
