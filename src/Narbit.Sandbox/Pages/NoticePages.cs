using System.Globalization;
using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.Pages;

/// <summary>Where a seller asks the market for notices, and how badly they arrive.</summary>
internal static class NoticePages
{
    public static void Map(IEndpointRouteBuilder app, MarketNotices notices)
    {
        app.MapGet("/clay-lane/notices", (string? said) => Page(notices, said));
        app.MapPost(
                "/clay-lane/notices",
                async (HttpRequest request) =>
                {
                    var form = await request.ReadFormAsync();
                    double Share(string name) =>
                        double.TryParse(form[name], CultureInfo.InvariantCulture, out var percent) ? Math.Clamp(percent / 100, 0, 1) : 0;
                    notices.Shares = new NoticeShares(Share("twice"), Share("late"), Share("never"));
                    var (address, secret) = (form["address"].ToString().Trim(), form["secret"].ToString().Trim());
                    if (address.Length == 0)
                        notices.To = null;
                    else if (Uri.TryCreate(address, UriKind.Absolute, out var to) && to is { IsLoopback: true, Scheme: "http" or "https" })
                        notices.To = (to, secret.Length > 0 ? secret : notices.To?.Secret ?? "");
                    else
                        return Results.Redirect("/clay-lane/notices?said=Notices+of+the+sandbox+go+to+this+machine+only.");
                    return Results.Redirect("/clay-lane/notices?said=Kept.");
                }
            )
            .DisableAntiforgery();
    }

    private static IResult Page(MarketNotices notices, string? said)
    {
        string Share(string name, string label, double share) =>
            $"""<label>{label} <input class="short" name="{name}" value="{share * 100:0}"> %</label> """;
        return Html.Page(
            "Notices",
            "shop",
            $"""
            <header><a href="/clay-lane/">Clay Lane Market</a><span>notices of purchases</span></header><main>{Html.Note(said)}
            <form method="post" action="/clay-lane/notices">
            <p><label>Sent to<br><input name="address" size="60" value="{Html.Text(notices.To?.Address.ToString())}"></label></p>
            <p><label>Signed with<br><input name="secret" size="70" placeholder="{(notices.To is null ? "" : "as before")}"></label></p>
            <p>{Share("twice", "twice", notices.Shares.Twice)}{Share("late", "late", notices.Shares.Late)}{Share(
                "never",
                "never",
                notices.Shares.Never
            )}</p>
            <p><button>Keep</button> <small>last answer: {Html.Text(notices.LastAnswer)}</small></p></form></main>
            """
        );
    }
}
