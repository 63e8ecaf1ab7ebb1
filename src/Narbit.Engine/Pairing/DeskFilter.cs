using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>Which records of a couple are asked for.</summary>
/// <param name="Show">certain, likely, ambiguous, none; null: all that are open.</param>
/// <param name="Cause">A housekeeping cause, e.g. <c>other.skuMissing</c>.</param>
/// <param name="Side">hub or other: only records that are there alone.</param>
/// <param name="Search">Text in SKU, title or key.</param>
public sealed record DeskFilter(string? Show, string? Cause, string? Side, string? Search)
{
    /// <summary>Those of some proposals that fit.</summary>
    public IQueryable<PairProposal> Narrow(IQueryable<PairProposal> proposals)
    {
        if (Enum.TryParse<Verdict>(Show, ignoreCase: true, out var verdict))
            proposals = proposals.Where(p => p.Verdict == verdict);
        if (!string.IsNullOrEmpty(Cause))
            proposals = proposals.Where(p => (" " + p.Causes + " ").Contains(" " + Cause + " "));
        if (Side == "hub")
            proposals = proposals.Where(p => p.HubKey != null);
        if (Side == "other")
            proposals = proposals.Where(p => p.OtherKey != null && p.HubKey == null);
        if (!string.IsNullOrWhiteSpace(Search))
        {
            var like = Window.Like(Search);
            proposals = proposals.Where(p =>
                EF.Functions.Like(p.Reference!, like, "\\")
                || EF.Functions.Like(p.Caption!, like, "\\")
                || EF.Functions.Like(p.HubKey!, like, "\\")
                || EF.Functions.Like(p.OtherKey!, like, "\\")
            );
        }

        return proposals;
    }
}
