namespace Narbit.Core.Pairing;

/// <summary>
/// Assigns left records to right records one to one, so that the values add up to the most over the whole set.
/// Source: D. P. Bertsekas, “The auction algorithm: a distributed relaxation method for the assignment problem” (1988);
/// one forward auction from zero prices, in which staying alone is worth nothing.
/// </summary>
public static class Assignment
{
    /// <summary>How far the sum may stay below the best possible, for each assigned pair.</summary>
    public const double Step = 0.002;

    /// <summary>The assignment: for each left record the right one, or −1.</summary>
    /// <param name="edges">The possible pairs.</param>
    /// <param name="left">How many left records there are.</param>
    /// <param name="right">How many right records there are.</param>
    public static int[] Best(IReadOnlyList<Edge> edges, int left, int right)
    {
        var offers = new List<Edge>?[left];
        foreach (var edge in edges)
            if (edge.Value > 0)
                (offers[edge.Left] ??= []).Add(edge);

        var (takenBy, given, price) = (new int[right], new int[left], new double[right]);
        Array.Fill(takenBy, -1);
        Array.Fill(given, -1);
        var waiting = new Queue<int>();
        for (var l = 0; l < left; l++)
            if (offers[l] is not null)
                waiting.Enqueue(l);

        while (waiting.TryDequeue(out var bidder))
        {
            var (best, gain, next) = (-1, 0.0, 0.0);
            foreach (var offer in offers[bidder]!)
            {
                var worth = offer.Value - price[offer.Right];
                if (worth > gain)
                    (best, gain, next) = (offer.Right, worth, gain);
                else if (worth > next)
                    next = worth;
            }

            if (best < 0)
                continue;
            price[best] += gain - next + Step;
            if (takenBy[best] is >= 0 and var outbid)
            {
                given[outbid] = -1;
                waiting.Enqueue(outbid);
            }

            (takenBy[best], given[bidder]) = (bidder, best);
        }

        return given;
    }
}
