using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Web.Mismatches;

/// <summary>Which mismatches are looked at: all of these must hold.</summary>
internal sealed record MismatchFilter
{
    /// <summary>Where they stand: a state, or <c>all</c>; those that are open unless it says otherwise.</summary>
    public string? State { get; init; }

    /// <summary>Of this cause.</summary>
    public string? Cause { get; init; }

    /// <summary>Of causes of this family, e.g. <c>held</c>.</summary>
    public string? Family { get; init; }

    /// <summary>Of causes that do this harm.</summary>
    public string? Harm { get; init; }

    /// <summary>On either side of which this system stands.</summary>
    public string? System { get; init; }

    /// <summary>Of this kind of record.</summary>
    public string? Kind { get; init; }

    /// <summary>Of this lane.</summary>
    public string? Lane { get; init; }

    /// <summary>Of this pairing.</summary>
    public long? Couple { get; init; }

    /// <summary>That this person has; <c>nobody</c>: that nobody has.</summary>
    public string? Owner { get; init; }

    /// <summary>About this: a code, a field, a SKU.</summary>
    public string? Subject { get; init; }

    /// <summary>Alike to this one, itself too: of the same cause, in the same place, about the same.</summary>
    public long? AlikeTo { get; init; }

    /// <summary>Part of what the record is called.</summary>
    public string? Search { get; init; }

    /// <summary>Seen for the first time, or over, then or later.</summary>
    public DateTimeOffset? From { get; init; }

    /// <summary>Whether it asks for what a count elsewhere counts by record.</summary>
    public bool IsNarrow => Family is not null || Harm is not null || Lane is not null;

    private bool Means(Harm harm) => Harm is null || string.Equals(Harm, harm.ToString(), StringComparison.OrdinalIgnoreCase);

    /// <summary>The mismatches that fit.</summary>
    public IQueryable<Mismatch> Of(NarbitContext db)
    {
        var all = Standing(db.Mismatches.AsNoTracking());
        if (Cause is { } cause)
            all = all.Where(m => m.Cause == cause);
        if (Family is { } family)
            all = all.Where(m => m.Cause.StartsWith(family + "."));
        if (Harm is not null)
            all = OfHarm(db, all);
        if (System is { } system)
            all = all.Where(m => m.SystemId == system || m.OtherSystemId == system);
        if (Kind is { } kind)
            all = RecordKind.TryParse(kind, out var wanted) ? all.Where(m => m.Kind == wanted) : all.Where(m => false);
        if (Lane is { } lane)
            all = all.Where(m => m.LaneId == lane);
        if (Couple is { } couple)
            all = all.Where(m => m.CoupleId == couple);
        if (Subject is { } subject)
            all = all.Where(m => m.Subject == subject);
        if (AlikeTo is { } to)
            all = Alike(all, db.Mismatches.AsNoTracking().FirstOrDefault(m => m.Id == to));
        if (From is { } from)
            all = Since(all, from);
        all = Owner switch
        {
            null => all,
            "nobody" => all.Where(m => m.Owner == null),
            var owner => all.Where(m => m.Owner == owner),
        };
        return string.IsNullOrWhiteSpace(Search) ? all : Found(all, Window.Like(Search));
    }

    // What is open is new then; what is over was over then. Each is found by an index of its own.
    private IQueryable<Mismatch> Since(IQueryable<Mismatch> all, DateTimeOffset from) =>
        State switch
        {
            null => all.Where(m => m.FirstSeenAt >= from),
            _ when Enum.TryParse<MismatchState>(State, ignoreCase: true, out var state) => state
                is MismatchState.Settled
                    or MismatchState.Gone
                ? all.Where(m => m.EndedAt >= from)
                : all.Where(m => m.FirstSeenAt >= from),
            _ => all.Where(m => m.FirstSeenAt >= from || m.EndedAt >= from),
        };

    /// <summary>Those that are alike to one: of the same cause, in the same place, about the same.</summary>
    internal static IQueryable<Mismatch> Alike(IQueryable<Mismatch> all, Mismatch? one) =>
        one is null
            ? all.Where(m => false)
            : all.Where(m => m.Cause == one.Cause && m.Scope == one.Scope && m.SystemId == one.SystemId && m.Subject == one.Subject);

    // A harm is said of causes, not kept with their records.
    private IQueryable<Mismatch> OfHarm(NarbitContext db, IQueryable<Mismatch> all)
    {
        var causes = db.Mismatches.Select(m => m.Cause).Distinct().ToList();
        causes.RemoveAll(c => !Means(MismatchCauses.Of(c).Harm));
        return all.Where(m => causes.Contains(m.Cause));
    }

    private IQueryable<Mismatch> Standing(IQueryable<Mismatch> all) =>
        State switch
        {
            "all" => all,
            null => all.Where(m => m.State == MismatchState.Open),
            var state => Enum.TryParse<MismatchState>(state, ignoreCase: true, out var wanted)
                ? all.Where(m => m.State == wanted)
                : all.Where(m => false),
        };

    private static IQueryable<Mismatch> Found(IQueryable<Mismatch> all, string like) =>
        all.Where(m =>
            EF.Functions.Like(m.Reference!, like, "\\")
            || EF.Functions.Like(m.Caption!, like, "\\")
            || EF.Functions.Like(m.Key, like, "\\")
            || EF.Functions.Like(m.Subject!, like, "\\")
        );
}
