namespace Narbit.Web.Api;

/// <summary>Refuses writes that a foreign page makes a browser send, and tells the browser how little our pages need.</summary>
public static class SameOriginOnly
{
    public static IApplicationBuilder UseSameOriginOnly(this IApplicationBuilder app) =>
        app.Use(
            async (http, next) =>
            {
                var headers = http.Response.Headers;
                headers.ContentSecurityPolicy =
                    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
                    + "connect-src 'self' ws: wss:; frame-ancestors 'none'; base-uri 'self'; form-action 'self'";
                headers.XContentTypeOptions = "nosniff";
                headers["Referrer-Policy"] = "same-origin";
                var site = http.Request.Headers["Sec-Fetch-Site"].ToString();
                if (
                    !HttpMethods.IsGet(http.Request.Method)
                    && !HttpMethods.IsHead(http.Request.Method)
                    && site is "cross-site" or "same-site"
                )
                {
                    await Problems
                        .Of(new Core.Fault("request.invalid", "This request came from another page and was refused."))
                        .ExecuteAsync(http);
                    return;
                }

                await next();
            }
        );
}
