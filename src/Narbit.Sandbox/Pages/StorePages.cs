using System.Globalization;
using System.Text;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.Pages;

/// <summary>
/// The plain pages of the till, the trade portal and the marketplace: look a listing up, see its price and quantity, buy it.
/// </summary>
internal static class StorePages
{
    public static void Map(
        IEndpointRouteBuilder app,
        string path,
        string name,
        string theme,
        string about,
        StoreState state,
        Counter? counter = null
    )
    {
        var head = $"""<header><a href="{path}/">{Html.Text(name)}</a><span>{Html.Text(about)}</span></header>""";
        app.MapGet(
            $"{path}/",
            (string? q, string? said) =>
            {
                var rows = state
                    .Search(q ?? "", 80)
                    .Select(l =>
                        $"""
                            <tr data-listing="{Html.Text(l.Id)}"><td>{Html.Text(l.Title)} {Html.Text(l.Option)}<br><small>{Html.Text(
                                l.Sku
                            )}</small></td>
                            <td class="price">€ {l.Price.ToString("0.00", CultureInfo.InvariantCulture)}</td><td class="stock">{(
                                l.Quantity > 0 ? $"{l.Quantity} in stock" : "sold out"
                            )}</td>
                            <td>{Counters.Form(path, l, counter)}</td></tr>
                            """
                    );
                return Html.Page(
                    name,
                    theme,
                    $"""
                    {head}<main>{Html.Note(said)}<form><label>Find <input name="q" value="{Html.Text(
                        q
                    )}"></label> <button>Search</button></form>
                    <table><tbody>{string.Concat(rows)}</tbody></table><p><small>The first 80.</small></p></main>
                    """
                );
            }
        );
        app.MapPost(
                $"{path}/buy",
                async (HttpRequest request) =>
                {
                    var form = await request.ReadFormAsync();
                    var id = form["id"].ToString();
                    var quantity = int.TryParse(form["quantity"], CultureInfo.InvariantCulture, out var q) ? q : 1;
                    var listing = state.Find([id], found => found.Count > 0 ? found[0] : null);
                    var said =
                        state.Buy(id, quantity)
                        ?? (counter is null ? "Sold." : counter.Sell(listing!, quantity, field => form[field].ToString().Trim()));
                    return Results.Redirect($"{path}/?said={Uri.EscapeDataString(said)}");
                }
            )
            .DisableAntiforgery();
        app.MapGet($"{path}/writes", () => Results.Json(state.Applied));
    }

    /// <summary>The store's table of kits, as its people keep it in a spreadsheet.</summary>
    public static void MapKits(IEndpointRouteBuilder app, string path, StoreState state) =>
        app.MapGet(
            path,
            () =>
            {
                var table = new StringBuilder("hub_key,sku,system,quantity\r\n");
                state.Read(
                    0,
                    int.MaxValue,
                    null,
                    (listings, _) =>
                    {
                        foreach (var l in listings)
                        foreach (var (article, quantity) in l.Kit)
                            table.Append(CultureInfo.InvariantCulture, $"{article},{l.Sku},Clay Lane Market,{quantity}\r\n");
                        return 0;
                    }
                );
                return Results.Text(table.ToString(), "text/csv");
            }
        );
}
