using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Orders;

namespace Narbit.Data.Orders;

/// <summary>
/// A cause for which an order stands where it does. Its code and values are kept, and not its words: those are made where a person reads.
/// </summary>
public sealed class StandingCause
{
    public long StandingId { get; set; }

    /// <summary>From 0, the weightiest first.</summary>
    public int Position { get; set; }

    public required string Code { get; init; }

    public OrderOutcome Outcome { get; init; }

    /// <summary>What it is about, by which orders are alike; null: the order as a whole.</summary>
    public string? Subject { get; init; }

    /// <summary>The line of the order that it is about; null: none.</summary>
    public string? Line { get; init; }

    /// <summary>What else its words speak of, JSON; null: nothing.</summary>
    public string? Values { get; init; }

    /// <summary>A cause to be kept.</summary>
    public static StandingCause Of(CauseOfOrder cause, int position) =>
        new()
        {
            Position = position,
            Code = cause.Code,
            Outcome = cause.Outcome,
            Subject = cause.Subject,
            Line = cause.Line,
            Values = cause.Values is null ? null : Core.RuleJson.Write(cause.Values),
        };

    /// <summary>The cause that was kept.</summary>
    public CauseOfOrder Cause =>
        new(Code, Outcome)
        {
            Subject = Subject,
            Line = Line,
            Values = Values is null ? null : Core.RuleJson.ReadValues(Values),
        };
}

/// <summary>How <see cref="StandingCause"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class StandingCauseStored : IEntityTypeConfiguration<StandingCause>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<StandingCause> e)
    {
        e.HasKey(c => new { c.StandingId, c.Position });
        e.HasIndex(c => c.Code);
        e.Ignore(c => c.Cause);
    }
}
