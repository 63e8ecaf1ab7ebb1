using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;

namespace Narbit.Unknown;

/// <summary>A store that lets programs in only where a person has granted it: codes with PKCE, a new refresh token with each.</summary>
public sealed class GrantHouse : UnknownServer
{
    public const string Client = "narbit-public";
    private readonly Dictionary<string, (string Challenge, string Back)> _codes = [];
    private int _made;

    /// <summary>The refresh token that counts; null: none does.</summary>
    public string? Refresh { get; set; }

    /// <summary>Whether it says when its tokens end, and gives others in their place.</summary>
    public bool TokensEnd { get; set; } = true;

    /// <summary>Whether it gives refresh tokens.</summary>
    public bool Renews { get; set; } = true;

    public int TokensGiven { get; private set; }

    /// <summary>Holds the answer back after a token was given; null: it does not.</summary>
    public TaskCompletionSource? Hold { get; set; }

    /// <summary>Is set once a token was given whose answer is held back.</summary>
    public TaskCompletionSource Given { get; } = new();

    private string? _token;

    protected override void Map(WebApplication app)
    {
        app.MapGet("/grant", Grant);
        app.MapPost("/grant/yes", (Delegate)YesAsync).DisableAntiforgery();
        app.MapPost("/token", (Delegate)TokenAsync).DisableAntiforgery();
        app.MapGet("/api/wares", List);
    }

    private static IResult Grant(HttpContext http)
    {
        var asked = http.Request.Query;
        if (asked["client_id"] != Client || asked["response_type"] != "code" || asked["code_challenge_method"] != "S256")
            return Results.Text("Nobody by that name.", statusCode: 400);
        var hidden = string.Concat(
            new[] { "state", "redirect_uri", "code_challenge" }.Select(n =>
                $"<input type='hidden' name='{n}' value='{System.Net.WebUtility.HtmlEncode(asked[n])}'>"
            )
        );
        return Results.Content(
            $"<title>Grant House</title><form method='post' action='/grant/yes'>{hidden}<button>Let Narbit in</button></form>",
            "text/html"
        );
    }

    private async Task<IResult> YesAsync(HttpContext http)
    {
        var form = await http.Request.ReadFormAsync();
        var code = $"c{++_made}";
        _codes[code] = (form["code_challenge"]!, form["redirect_uri"]!);
        return Results.Redirect($"{form["redirect_uri"]}?code={code}&state={form["state"]}");
    }

    private async Task<IResult> TokenAsync(HttpContext http)
    {
        var form = await http.Request.ReadFormAsync();
        var known = form["client_id"] == Client && http.Request.Headers.Authorization.Count == 0;
        var counts = form["grant_type"] == "refresh_token" ? form["refresh_token"] == Refresh : Redeems(form);
        if (!known || !counts)
            return Json(new JsonObject { ["error"] = "invalid_grant", ["error_description"] = "It was taken back." }, 400);
        TokensGiven++;
        _token = $"t{++_made}";
        var answer = new JsonObject { ["access_token"] = _token, ["token_type"] = "Bearer" };
        if (TokensEnd)
            answer["expires_in"] = 600;
        if (Renews)
            answer["refresh_token"] = Refresh = $"r{++_made}";
        if (Hold is { } hold)
        {
            Given.TrySetResult();
            await hold.Task;
        }

        return Json(answer);
    }

    // RFC 7636, section 4.6.
    private bool Redeems(IFormCollection form)
    {
        if (!_codes.Remove(form["code"].ToString(), out var begun))
            return false;
        var hash = SHA256.HashData(Encoding.ASCII.GetBytes(form["code_verifier"].ToString()));
        var challenge = Convert.ToBase64String(hash).TrimEnd('=').Replace('+', '-').Replace('/', '_');
        return challenge == begun.Challenge && form["redirect_uri"] == begun.Back;
    }

    private IResult List(HttpContext http) =>
        http.Request.Headers.Authorization == $"Bearer {_token}"
            ? Json(
                new JsonArray([
                    .. Enumerable
                        .Range(1, 9)
                        .Select(n => new JsonObject
                        {
                            ["id"] = $"G{n}",
                            ["sku"] = $"GH-{n}",
                            ["title"] = UnknownServer.Wares[n],
                        }),
                ])
            )
            : Json(new JsonObject { ["problem"] = "Not with that." }, 401);

    /// <summary>Takes no token that it has given so far.</summary>
    public void ForgetToken() => _token = null;
}
