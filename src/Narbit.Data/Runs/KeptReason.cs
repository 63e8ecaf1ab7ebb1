using Narbit.Core;

namespace Narbit.Data.Runs;

/// <summary>A <see cref="Reason"/> as it is kept: its code can be counted and filtered by, its words are shown.</summary>
public sealed class KeptReason
{
    public required string Code { get; init; }

    public required string Words { get; init; }

    /// <summary>What the words speak of, JSON; null: nothing in particular.</summary>
    public string? Values { get; init; }

    /// <summary>A reason to be kept.</summary>
    public static KeptReason? Of(Reason? reason) =>
        reason is null
            ? null
            : new KeptReason
            {
                Code = reason.Code,
                Words = reason.Words,
                Values = reason.Values is null ? null : RuleJson.Write(reason.Values),
            };

    /// <summary>The reason that was kept.</summary>
    public Reason Reason => new(Code, Words, Values is null ? null : RuleJson.ReadValues(Values));
}
