using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.Metadata;

namespace Narbit.Web.Api;

/// <summary>How large a file may be that is sent to Narbit.</summary>
public static class Uploads
{
    // Around the file in a form.
    private const long Form = 1 << 20;

    /// <summary>The most bytes of a file.</summary>
    public const long Most = 100L << 20;

    /// <summary>Lets an endpoint take files of up to <see cref="Most"/>.</summary>
    public static RouteHandlerBuilder TakesFiles(this RouteHandlerBuilder endpoint) =>
        endpoint.DisableAntiforgery().WithMetadata(new Limit(Most + Form)).WithFormOptions(multipartBodyLengthLimit: Most + Form);

    /// <summary>Raises the limit of the server for endpoints that take files, before anything of the body is read.</summary>
    public static IApplicationBuilder UseUploads(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                if (
                    http.GetEndpoint()?.Metadata.GetMetadata<Limit>() is { } limit
                    && http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } feature
                )
                    feature.MaxRequestBodySize = limit.MaxRequestBodySize;
                return next(http);
            }
        );

    private sealed record Limit(long? MaxRequestBodySize) : IRequestSizeLimitMetadata;
}
