using Narbit.Core.Orders;
using Narbit.Engine.Lanes.Orders;

namespace Narbit.Web.Setup;

/// <summary>By which rules the demo's orders reach the back office, store by store.</summary>
internal static class DemoOrders
{
    private static readonly DateTimeOffset CutOff = new(2026, 9, 26, 0, 0, 0, TimeSpan.Zero);

    /// <summary>The stores with their rules.</summary>
    public static IReadOnlyList<(string Store, OrderPolicy Policy)> All { get; } =
    [("web-shop", Shop()), ("trade-portal", Portal()), ("clay-lane", Market()), ("quay-street-till", Till())];

    private static OrderPolicy Shop() =>
        new(
            new OrderRule
            {
                CutOff = CutOff,
                States = States(take: ["processing", "done", "accepted"], wait: ["open"], skip: ["cancelled"]),
                Methods = Words(("card", "card"), ("invoice", "invoice")),
                ShippingMethods = Words(("standard", "MP"), ("express", "MX"), ("collect", "COL")),
                Zones = [new ShippingZone { Country = "IE", Except = ["IS"] }],
            }
        )
        {
            Back = new WayBack { Acknowledged = "accepted", States = Words(("partShipped", "partly sent"), ("shipped", "sent")) },
        };

    private static OrderPolicy Portal() =>
        new(
            new OrderRule
            {
                CutOff = CutOff,
                States = States(take: ["placed", "accepted"], wait: [], skip: ["cancelled"]),
                Methods = Words(("account", "account")),
                ShippingMethods = Words(("carrier", "MP"), ("pallet", "MX")),
            }
        )
        {
            Back = new WayBack { Acknowledged = "accepted", States = Words(("partShipped", "part sent"), ("shipped", "sent")) },
        };

    private static OrderPolicy Market() =>
        new(
            new OrderRule
            {
                CutOff = CutOff,
                States = States(take: ["paid", "in hand"], wait: ["unpaid"], skip: ["cancelled"]),
                Methods = Words(("market", "transfer")),
                ShippingMethods = Words(("home", "MP")),
            }
        )
        {
            Back = new WayBack { Acknowledged = "in hand", States = Words(("partShipped", "in hand"), ("shipped", "sent")) },
        };

    // Whoever buys at the counter gives neither name nor address.
    private static OrderPolicy Till() =>
        new(
            new OrderRule
            {
                CutOff = CutOff,
                States = States(take: ["closed", "exchange"], wait: ["open"], skip: []),
                Methods = Words(("cash", "cash"), ("card", "card")),
                NoAddress = AddressChoice.Take,
                Customer = new CustomerRule { Missing = MissingCustomer.Use, Use = "40001" },
                Document = "sale",
                Documents = [new DocumentChoice { State = "exchange", As = "exchange" }],
            }
        );

    private static Dictionary<string, OrderOutcome> States(string[] take, string[] wait, string[] skip)
    {
        var states = new Dictionary<string, OrderOutcome>(StringComparer.Ordinal);
        foreach (var (words, outcome) in new[] { (take, OrderOutcome.Take), (wait, OrderOutcome.Wait), (skip, OrderOutcome.Skip) })
        foreach (var word in words)
            states[word] = outcome;
        return states;
    }

    private static Dictionary<string, string> Words(params (string There, string Here)[] words) =>
        words.ToDictionary(w => w.There, w => w.Here, StringComparer.Ordinal);
}
