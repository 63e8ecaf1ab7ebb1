using Narbit.Core.Records;
using Narbit.Data.Lanes;

namespace Narbit.Engine.Lanes;

/// <summary>A pair of records that lies in a lane's scope. A kind that looks at more has a pair of its own.</summary>
/// <param name="Source">The source's record.</param>
/// <param name="Target">The target's record.</param>
/// <param name="Reference">What a person knows the record by: the source's SKU or number.</param>
/// <param name="Caption">What it is in words.</param>
public record LanePair(SideRecord Source, SideRecord Target, string? Reference, string? Caption)
{
    private static readonly IReadOnlyDictionary<string, Agreed> Nothing = new Dictionary<string, Agreed>();

    /// <summary>What both sides last agreed on, by the target's field.</summary>
    public IReadOnlyDictionary<string, Agreed> Agreed { get; init; } = Nothing;

    /// <summary>
    /// Why nothing may be computed of it: it cannot be told from another record, or what it says would be a guess; null: it may.
    /// </summary>
    public virtual string? Unbelievable =>
        Source.Problems.Concat(Target.Problems).FirstOrDefault(p => p.Field == FieldProblem.OfKey)?.Message;

    /// <summary>The record as a person knows it.</summary>
    public string Name =>
        Reference is { Length: > 0 } ? Reference
        : Target.Key.Length > 0 ? Target.Key
        : Source.Key;
}
