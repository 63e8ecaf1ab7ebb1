using System.Text.Json.Nodes;
using System.Threading.Channels;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;
using Narbit.Core;
using Narbit.Core.Events;

namespace Narbit.Web.Tests;

/// <summary>A webhook as a tool got it.</summary>
public sealed record GotHook(string? Time, string? Signature, byte[] Body)
{
    public JsonNode Json => JsonNode.Parse(Body)!;

    /// <summary>Why somebody who has a secret would not take it; null: they would.</summary>
    public Reason? Fault(string secret) => HookSignature.Fault([secret], Time, Signature, Body, DateTimeOffset.UtcNow);
}

/// <summary>Another tool that listens to webhooks, over real HTTP.</summary>
public sealed class HookTool : IAsyncDisposable
{
    private readonly WebApplication _app;
    private readonly Channel<GotHook> _got = Channel.CreateUnbounded<GotHook>();

    private HookTool(WebApplication app) => _app = app;

    /// <summary>How it answers.</summary>
    public int Answer { get; set; } = 204;

    public Uri Address => new(_app.Urls.First() + "/");

    public static async Task<HookTool> StartAsync()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        var tool = new HookTool(builder.Build());
        tool._app.MapPost("/hooks", tool.TakeAsync);
        await tool._app.StartAsync();
        return tool;
    }

    /// <summary>The next webhook that came.</summary>
    public async Task<GotHook> NextAsync()
    {
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        return await _got.Reader.ReadAsync(patience.Token);
    }

    private async Task<IResult> TakeAsync(HttpRequest request)
    {
        using var body = new MemoryStream();
        await request.Body.CopyToAsync(body);
        var (time, signature) = (request.Headers["Narbit-Time"].ToString(), request.Headers["Narbit-Signature"].ToString());
        if (Answer < 300)
            await _got.Writer.WriteAsync(new GotHook(time, signature, body.ToArray()));
        return Results.StatusCode(Answer);
    }

    public ValueTask DisposeAsync() => _app.DisposeAsync();
}
