using Narbit.Core.Records;

namespace Narbit.Engine.Pairing;

/// <summary>A record on one side of the seam.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is, in words.</param>
/// <param name="Gone">Whether its system no longer has it.</param>
/// <param name="Problems">What of it could not be read.</param>
public sealed record SideRecordView(string Key, string? Reference, string? Caption, bool Gone, IReadOnlyList<FieldProblem> Problems);
