using Narbit.Sandbox.Pages;
using Narbit.Sandbox.Stores;
using Narbit.Sandbox.Till;

namespace Narbit.Sandbox.Orders;

/// <summary>The counters of the stores that have no basket.</summary>
public static class Counters
{
    private const decimal UsualRate = 20;

    /// <summary>The market's: who buys stays unknown until the purchase is paid.</summary>
    public static Counter Market(StoreOrders orders) =>
        new(
            "",
            (listing, quantity, _) =>
            {
                var line = Line(listing, quantity, UsualRate);
                var placed = orders.Place(n =>
                    Reckoning.Added(
                        Order($"M{500_000 + n}", $"CL-{500_000 + n}", line) with
                        {
                            State = "unpaid",
                            PaymentState = "pending",
                            Method = "market",
                            Shipping = [new Sending("home", 4.50m)],
                        },
                        gross: true
                    )
                );
                return $"Purchase {placed.Number} waits for its payment.";
            }
        );

    /// <summary>Pays a purchase of the market's; only then it is told where it goes.</summary>
    public static StoreOrder Paid(StoreOrder order) =>
        order with
        {
            State = order.State == "unpaid" ? "paid" : order.State,
            PaymentState = "paid",
            Email = order.Email.Length > 0 ? order.Email : $"buyer{order.Id}@claylane.example",
            BillTo = order.BillTo ?? new PostAddress("Isolde Marrow", "", "7 Quarry Rise", "Kilnhaven", "LM07 G4K", "IE"),
        };

    /// <summary>The trade portal's: an account orders on its own terms, under a number of its own.</summary>
    public static Counter Portal(StoreOrders orders, StoreAccounts accounts) =>
        new(
            """
            <label>Account <input class="short" name="account" value="40100"></label>
            <label>Your order number <input class="short" name="their"></label>
            """,
            (listing, quantity, said) =>
            {
                var account = accounts.All.FirstOrDefault(a => a.Number == said("account"));
                var line = Line(listing, quantity, Rate(listing));
                var placed = orders.Place(n =>
                    Reckoning.Added(
                        Order($"P-{8_000 + n}", $"TP{8_000 + n}", line) with
                        {
                            State = "placed",
                            PaymentState = "authorised",
                            Method = "account",
                            Account = said("account"),
                            TheirNumber = said("their"),
                            Email = account?.Mail ?? "",
                            Phone = account?.Phone ?? "",
                            BillTo = account is null
                                ? null
                                : new PostAddress(account.Contact, account.Firm, "1 Slip Row", account.Town, account.Postcode, "IE"),
                            Shipping = [new Sending("carrier", 9.50m, UsualRate)],
                        },
                        gross: false
                    )
                );
                return $"Thank you. Your requisition is {placed.Number}.";
            }
        );

    /// <summary>The till's: paid on the spot, or left open until the customer comes back.</summary>
    public static Counter Till(StoreOrders sales) =>
        new(
            """
            <select name="paid" aria-label="Paid by"><option>cash</option><option>card</option></select>
            <label><input type="checkbox" name="open" value="open"> leave it open</label>
            """,
            (listing, quantity, said) =>
            {
                var state = said("open").Length > 0 ? "open" : "closed";
                var line = Line(listing, quantity, UsualRate);
                var placed = sales.Place(n =>
                    Reckoning.Added(
                        Order(TillSales.Receipt(n), TillSales.Receipt(n), line) with
                        {
                            State = state,
                            PaymentState = state == "closed" ? "paid" : "pending",
                            Method = said("paid"),
                            Register = "1",
                        },
                        gross: true
                    )
                );
                return $"Receipt {placed.Number} is {state}.";
            }
        );

    /// <summary>A button that buys, with what the counter asks.</summary>
    public static string Form(string path, Listing listing, Counter? counter) =>
        $"""
            <form method="post" action="{path}/buy"><input type="hidden" name="id" value="{Html.Text(
                listing.Id
            )}"><label>Quantity <input class="short" name="quantity" value="1"></label> {counter?.Fields} <button {(
                listing.Quantity > 0 ? "" : "disabled"
            )}>Buy</button></form>
            """;

    private static decimal Rate(Listing listing) =>
        listing.TaxClass switch
        {
            "B" => 5,
            "C" => 0,
            _ => UsualRate,
        };

    private static OrderedLine Line(Listing listing, int quantity, decimal rate) =>
        new("1", listing.Sku, $"{listing.Title} {listing.Option}".Trim(), quantity, listing.Price, 0, rate);

    private static StoreOrder Order(string id, string number, OrderedLine line) =>
        new()
        {
            Id = id,
            Number = number,
            PlacedAt = default,
            State = "",
            PaymentState = "",
            Lines = [line],
        };
}
