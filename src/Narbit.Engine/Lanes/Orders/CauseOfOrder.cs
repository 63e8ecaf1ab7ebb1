using System.Text.Json;
using Narbit.Data.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>A cause of an order as it is kept with where the order stands.</summary>
/// <param name="Code">A stable word for programs.</param>
/// <param name="Subject">What it is about, by which orders are alike; null: the order as a whole.</param>
/// <param name="Words">The cause in words, for people.</param>
/// <param name="Hint">The title of the line that it is about.</param>
public sealed record CauseOfOrder(string Code, string? Subject, string Words, string? Hint = null)
{
    /// <summary>Causes as they are kept.</summary>
    public static string Stored(IEnumerable<CauseOfOrder> causes) => JsonSerializer.Serialize(causes);

    /// <summary>The causes of an order; those of one that an earlier version kept have no words of their own.</summary>
    public static IReadOnlyList<CauseOfOrder> Of(OrderStanding standing) =>
        standing.Details.Length > 0
            ? JsonSerializer.Deserialize<IReadOnlyList<CauseOfOrder>>(standing.Details)!
            :
            [
                .. standing
                    .Causes.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(code => new CauseOfOrder(code, null, standing.Words ?? code)),
            ];
}
