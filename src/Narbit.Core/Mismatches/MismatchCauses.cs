using Narbit.Core.Orders;
using Narbit.Core.Pairing;

namespace Narbit.Core.Mismatches;

/// <summary>
/// Every cause there is. A family gathers the codes of one part of Narbit: what a value was held, refused or not computed for, what an
/// order is held for, what the readiness check finds. So a new code of a part is a cause without a word here.
/// </summary>
public static class MismatchCauses
{
    /// <summary>Between a family and its code.</summary>
    public const char Dot = '.';

    private static readonly Dictionary<string, MismatchCause> Known = new MismatchCause[]
    {
        new("stock.oversold", "Can be sold more often than it is there", Harm.Oversold),
        new("stock.promised", "Sold more often than it is there", Harm.Oversold),
        new("stock.belowZero", "Stock below zero", Harm.Oversold),
        new("stock.gone", "Still for sale, and gone at the hub", Harm.Oversold),
        new("order.waits", "Waits for more than a week", Harm.OrderStuck),
        new("order.unacknowledged", "Taken, and the store was never told", Harm.OrderStuck),
        new("order.uncredited", "Given back, and not credited at the hub", Harm.OrderStuck),
        new("order.untracked", "Shipped without a tracking number", Harm.OrderStuck),
        new("system.silent", "Does not answer", Harm.Silent),
        new("system.secret", "No longer lets Narbit in, or soon will not", Harm.Silent),
        new("run.guard", "A guard stopped the run", Harm.Stopped),
        new("run.failed", "The run failed", Harm.Stopped),
        new("lane.closed", "Not sent while somebody pairs", Harm.Stopped),
        new("job.untold", "Its times cannot be told", Harm.Stopped),
        new("job.missed", "Missed its time", Harm.Stopped),
        new("job.leftOut", "Left out of its job", Harm.Stopped),
        new("drift.changedThere", "Changed there, and no run of ours did it", Harm.Doubtful),
        new("drift.mistaken", "Believed to be otherwise than it is", Harm.Doubtful),
        new("event.setAside", "A webhook whose record cannot be read", Harm.Silent),
        new("event.lost", "Found by the clock, no event told of it", Harm.Untidy),
        new("read.unreadable", "Values that could not be read", Harm.NotComputed),
        new("read.picture", "A picture that no shop can show", Harm.Untidy),
        new("read.requiredEmpty", "Empty, though its own system requires it", Harm.Untidy),
        new("customer.alike", "Customers that look alike", Harm.Untidy),
        new("pair.likely", "Likely pairs", Harm.Unpaired),
        new("pair.ambiguous", "Several candidates", Harm.Unpaired),
        new("pair.none", "No partner", Harm.Unpaired),
        new("pair.vanished", "Its partner is gone", Harm.Unpaired),
        new("pair.habit", "Writes SKUs in a way of its own", Harm.Unpaired),
        new("pair.certain", "Certain pairs, not accepted yet", Harm.Unpaired),
        new("ready.priceZero", "Price of zero or less", Harm.WrongPrice),
        new("work.notChosen", "Not chosen when the rest was sent", Harm.Unfinished),
        new("work.preview", "A preview waits to be sent", Harm.Unfinished),
        new("work.draft", "Changed and not saved", Harm.Unfinished),
        new("work.pairs", "Decided and not committed", Harm.Unfinished),
    }.ToDictionary(c => c.Code, StringComparer.Ordinal);

    /// <summary>The cause with a code.</summary>
    /// <param name="code">The code; one that no part of this version knows is a cause too, called by its words.</param>
    /// <param name="words">What one of its mismatches says, for a code without a name of its own.</param>
    public static MismatchCause Of(string code, string? words = null)
    {
        if (Known.GetValueOrDefault(code) is { } known)
            return known;
        var dot = code.IndexOf(Dot, StringComparison.Ordinal);
        return dot < 0 ? Unknown(code, words) : OfFamily(code, code[..dot], code[(dot + 1)..], words);
    }

    private static MismatchCause OfFamily(string code, string family, string rest, string? words) =>
        family switch
        {
            "held" => new(code, $"Held: {General(rest, words)}", HarmOfHeld(rest)),
            "value" => new(code, $"Not computed: {General(rest, words)}", Harm.NotComputed),
            "failed" => new(code, $"Did not get there: {General(rest, words)}", Harm.Failed),
            "order" => new(code, OrderWords.Heading(rest), Harm.OrderStuck),
            "ready" => new(code, Capital(ReadinessWords.Of(rest)), Harm.Untidy),
            _ => Unknown(code, words),
        };

    private static MismatchCause Unknown(string code, string? words) => new(code, words ?? $"Unknown here: {code}", Harm.Doubtful);

    private static string General(string code, string? words) => ReasonWords.InGeneral(code) ?? words ?? code;

    // A price that is held leaves another one live.
    private static Harm HarmOfHeld(string code) =>
        code.StartsWith("price.", StringComparison.Ordinal) || code == "noPrice" ? Harm.WrongPrice : Harm.Doubtful;

    private static string Capital(string words) => char.ToUpperInvariant(words[0]) + words[1..];
}
