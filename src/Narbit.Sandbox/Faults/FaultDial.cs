namespace Narbit.Sandbox.Faults;

/// <summary>The dial of one stand-in.</summary>
public sealed class FaultDial
{
    private readonly Demo.Dice _dice = new(7);
    private readonly Lock _gate = new();

    public FaultShares Shares { get; set; } = new();

    /// <summary>Requests that a fault was dealt to since the start.</summary>
    public int Dealt { get; private set; }

    /// <summary>Raised for every request, before it is served.</summary>
    public event Action? Asked;

    /// <summary>Raised for every request that is to be done late, once it is known.</summary>
    public event Action? Kept;

    /// <summary>Serves a request, badly if the dice say so.</summary>
    public async Task ServeAsync(HttpContext http, RequestDelegate next)
    {
        Asked?.Invoke();
        var shares = Shares;
        if (shares.Quiet || (shares.WritesOnly && HttpMethods.IsGet(http.Request.Method)))
        {
            await next(http);
            return;
        }

        double roll;
        lock (_gate)
            roll = _dice.Below(1_000_000) / 1_000_000.0;
        bool Falls(double share) => (roll -= share) < 0;

        if (Falls(shares.TooMany))
        {
            Dealt++;
            http.Response.Headers.RetryAfter = shares.RetryAfter.ToString(System.Globalization.CultureInfo.InvariantCulture);
            http.Response.StatusCode = 429;
        }
        else if (Falls(shares.Error))
        {
            Dealt++;
            http.Response.StatusCode = 500;
            await http.Response.WriteAsJsonAsync(
                new { errors = "Something went wrong.", error = new { message = "Something went wrong." } }
            );
        }
        else if (Falls(shares.Forbids))
        {
            Dealt++;
            http.Response.StatusCode = StatusCodes.Status403Forbidden;
        }
        else if (Falls(shares.LostBefore))
        {
            Dealt++;
            await SilenceAsync(http);
        }
        else if (Falls(shares.LostAfter))
        {
            Dealt++;
            await AnswerAsync(http, next);
            await SilenceAsync(http);
        }
        else if (Falls(shares.FailedAfter))
        {
            Dealt++;
            await AnswerAsync(http, next);
            http.Response.StatusCode = 502;
            http.Response.ContentType = "text/html";
            await http.Response.WriteAsync("<html><h1>Bad gateway</h1></html>");
        }
        else if (Falls(shares.DoneLate))
        {
            await LateAsync(http, next, shares.LateSeconds);
        }
        else if (Falls(shares.Twice))
        {
            Dealt++;
            http.Request.EnableBuffering();
            await AnswerAsync(http, next);
            http.Request.Body.Position = 0;
            await next(http);
        }
        else if (Falls(shares.HalfPage))
        {
            Dealt++;
            var reply = await AnswerAsync(http, next);
            await http.Response.Body.WriteAsync(reply.AsMemory(0, reply.Length / 2));
        }
        else
        {
            await next(http);
        }
    }

    // Lets the endpoint answer into memory, so that the reply can be dropped or cut.
    private static async Task<byte[]> AnswerAsync(HttpContext http, RequestDelegate next)
    {
        var wire = http.Response.Body;
        using var memory = new MemoryStream();
        http.Response.Body = memory;
        try
        {
            await next(http);
        }
        finally
        {
            http.Response.Body = wire;
        }
        http.Response.Headers.ContentLength = null;
        return memory.ToArray();
    }

    // What was asked is kept, as nobody is there any more to be read from.
    private async Task LateAsync(HttpContext http, RequestDelegate next, double seconds)
    {
        using var body = new MemoryStream();
        await http.Request.Body.CopyToAsync(body);
        body.Position = 0;
        Dealt++;
        Kept?.Invoke();
        await Task.Delay(TimeSpan.FromSeconds(seconds));
        http.RequestAborted = CancellationToken.None;
        http.Request.Body = body;
        await AnswerAsync(http, next);
        http.Abort();
    }

    private static async Task SilenceAsync(HttpContext http)
    {
        try
        {
            await Task.Delay(TimeSpan.FromSeconds(60), http.RequestAborted);
        }
        catch (OperationCanceledException)
        { /* the caller gave up, as intended */
        }
        http.Abort();
    }
}
