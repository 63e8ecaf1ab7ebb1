using Narbit.Core;

namespace Narbit.Web.Api;

/// <summary>
/// What is let in: requests for a host that is meant, and writes and live connections of our own pages. A page elsewhere that makes a
/// browser call this machine, under whatever name resolves to it, reads and writes nothing.
/// </summary>
internal static class Border
{
    private const string OwnPagesOnly =
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
        + "connect-src 'self'; frame-ancestors 'none'; base-uri 'self'; form-action 'self'";

    private static readonly string[] Loopback = ["localhost", "127.0.0.1", "[::1]"];

    /// <summary>Checks every request.</summary>
    /// <param name="app">The application.</param>
    /// <param name="hosts">Names under which it is served, besides those of this machine to itself.</param>
    /// <param name="live">Where live connections begin.</param>
    public static IApplicationBuilder UseBorder(this IApplicationBuilder app, IEnumerable<string> hosts, PathString live)
    {
        var served = new HashSet<string>([.. Loopback, .. hosts], StringComparer.OrdinalIgnoreCase);
        return app.Use(
            async (http, next) =>
            {
                // Just before the first byte: the answer to a mistake begins anew and would lose what was set before.
                http.Response.OnStarting(() => HardenAsync(http.Response));
                if (Refusal(http.Request, served, live) is { } refusal)
                    await Problems.Of(refusal).ExecuteAsync(http);
                else
                    await next();
            }
        );
    }

    private static Reason? Refusal(HttpRequest request, HashSet<string> served, PathString live)
    {
        if (!served.Contains(request.Host.Host))
            return new Reason(
                "request.misdirected",
                $"Narbit is not served as “{request.Host.Host}”. If it should be, start it with --host {request.Host.Host}."
            );
        var changes = !HttpMethods.IsGet(request.Method) && !HttpMethods.IsHead(request.Method);
        return (changes || request.Path.StartsWithSegments(live)) && Foreign(request)
            ? new Reason("request.invalid", "This request came from another page and was refused.")
            : null;
    }

    // Programs send neither header; browsers send one of them at least, and pages cannot set them.
    private static bool Foreign(HttpRequest request)
    {
        if (request.Headers["Sec-Fetch-Site"].ToString() is "cross-site" or "same-site")
            return true;
        var origin = request.Headers.Origin.ToString();
        return origin.Length > 0 && !(Uri.TryCreate(origin, UriKind.Absolute, out var from) && Same(from, request.Host));
    }

    private static bool Same(Uri from, HostString host) =>
        string.Equals(from.Authority, HostString.FromUriComponent(host.ToUriComponent()).Value, StringComparison.OrdinalIgnoreCase)
        || (
            host.Port is null or 80 or 443 && from.IsDefaultPort && string.Equals(from.Host, host.Host, StringComparison.OrdinalIgnoreCase)
        );

    private static Task HardenAsync(HttpResponse response)
    {
        response.Headers.ContentSecurityPolicy = OwnPagesOnly;
        response.Headers.XContentTypeOptions = "nosniff";
        response.Headers["Referrer-Policy"] = "same-origin";
        // What is answered to one person is nobody else's; pages and their parts say themselves how long they hold.
        if (response.Headers.CacheControl.Count == 0)
            response.Headers.CacheControl = "no-store";
        return Task.CompletedTask;
    }
}
