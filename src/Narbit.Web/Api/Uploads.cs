using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.Metadata;

namespace Narbit.Web.Api;

/// <summary>How large a file may be that is sent to Narbit.</summary>
internal static class Uploads
{
    // Around the file in a form.
    private const long Form = 1 << 20;

    /// <summary>The most bytes of a file.</summary>
    public const long Most = 100L << 20;

    /// <summary>Lets an endpoint take files of up to <see cref="Most"/>.</summary>
    public static RouteHandlerBuilder TakesFiles(this RouteHandlerBuilder endpoint) =>
        endpoint.DisableAntiforgery().WithMetadata(new Limit(Most + Form)).WithFormOptions(multipartBodyLengthLimit: Most + Form);

    /// <summary>
    /// Raises the limit of the server for endpoints that take files, and refuses what is said to be larger before anything of it is read.
    /// The server then lets what is on its way come, so that whoever sent it gets to read why.
    /// </summary>
    public static IApplicationBuilder UseUploads(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                if (http.GetEndpoint()?.Metadata.GetMetadata<Limit>() is not { } limit)
                    return next(http);
                var tooLarge = http.Request.ContentLength > limit.MaxRequestBodySize;
                if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } feature)
                    feature.MaxRequestBodySize = tooLarge ? null : limit.MaxRequestBodySize;
                return tooLarge ? Problems.TooLarge().ExecuteAsync(http) : next(http);
            }
        );

    private sealed record Limit(long? MaxRequestBodySize) : IRequestSizeLimitMetadata;
}
