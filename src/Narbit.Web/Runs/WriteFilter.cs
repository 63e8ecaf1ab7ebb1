using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Runs;

namespace Narbit.Web.Runs;

/// <summary>Which writes of a run are looked at: all of these must hold.</summary>
internal sealed record WriteFilter
{
    /// <summary>A kind of change or a state, by its word.</summary>
    public string? Show { get; init; }

    /// <summary>In the reference or the caption.</summary>
    public string? Search { get; init; }

    /// <summary>Writes that change this field.</summary>
    public string? Field { get; init; }

    /// <summary>Moves at least so far, up or down.</summary>
    public double? Least { get; init; }

    /// <summary>Held for a reason with this code.</summary>
    public string? Cause { get; init; }

    /// <summary>The writes of a run that fit.</summary>
    public IQueryable<PlannedWrite> Of(NarbitContext db, long runId)
    {
        var writes = Shown(db.Writes.AsNoTracking().Where(w => w.RunId == runId));
        if (Least is { } move)
            writes = writes.Where(w => w.Move >= move || w.Move <= -move);
        if (Field is { } field)
            writes = writes.Where(w => w.Fields.Any(f => f.Field == field));
        if (Cause is { } code)
            writes = writes.Where(w => w.Hold!.Code == code);
        if (string.IsNullOrWhiteSpace(Search))
            return writes;
        var like = Window.Like(Search);
        return writes.Where(w => EF.Functions.Like(w.Reference!, like, "\\") || EF.Functions.Like(w.Caption!, like, "\\"));
    }

    private IQueryable<PlannedWrite> Shown(IQueryable<PlannedWrite> writes) =>
        Show switch
        {
            "up" => writes.Where(w => w.Kind == ChangeKind.Up),
            "down" => writes.Where(w => w.Kind == ChangeKind.Down),
            "new" => writes.Where(w => w.Kind == ChangeKind.New),
            "withdrawn" => writes.Where(w => w.Kind == ChangeKind.Withdrawn),
            "back" => writes.Where(w => w.Kind == ChangeKind.Back),
            "other" => writes.Where(w => w.Kind == ChangeKind.Other),
            "guarded" => writes.Where(w => w.Guards != ""),
            "takenBack" => writes.Where(w => w.TakenBackIn != null),
            "held" => writes.Where(w => w.State == WriteState.Held),
            "failed" => writes.Where(w => w.State == WriteState.Failed || w.State == WriteState.Overtaken),
            "confirmed" => writes.Where(w => w.State == WriteState.Confirmed),
            "open" => writes.Where(w => w.State == WriteState.Planned || w.State == WriteState.Unknown || w.State == WriteState.Sent),
            "sent" => writes.Where(w => w.State != WriteState.Planned && w.State != WriteState.Skipped && w.State != WriteState.Held),
            "planned" => writes.Where(w => w.State == WriteState.Planned),
            "skipped" => writes.Where(w => w.State == WriteState.Skipped && w.Fate == null),
            "decided" => writes.Where(w => w.State == WriteState.Skipped && w.Fate != null),
            _ => writes,
        };
}
