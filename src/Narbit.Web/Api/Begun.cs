namespace Narbit.Web.Api;

/// <summary>
/// What somebody has begun is finished, though their page is closed meanwhile: an act that stops half-way leaves work that nobody asked
/// for. What only looks stops once nobody waits for it.
/// </summary>
public static class Begun
{
    /// <summary>Says of an endpoint that changes nothing, whatever its method, that it may stop when nobody waits any more.</summary>
    public static RouteHandlerBuilder OnlyLooks(this RouteHandlerBuilder endpoint) => endpoint.WithMetadata(new Looks());

    /// <summary>Lets requests that change something go on when whoever sent them goes away.</summary>
    public static IApplicationBuilder UseFinishing(this WebApplication app)
    {
        var stopping = app.Lifetime.ApplicationStopping;
        return app.Use(
            (http, next) =>
            {
                var looks = HttpMethods.IsGet(http.Request.Method) || HttpMethods.IsHead(http.Request.Method);
                if (!looks && http.GetEndpoint() is { } endpoint && endpoint.Metadata.GetMetadata<Looks>() is null)
                    http.RequestAborted = stopping;
                return next(http);
            }
        );
    }

    private sealed record Looks;
}
