using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Threading.Channels;

namespace Narbit.Sandbox.Orders;

/// <summary>
/// The market's notices of purchases that came or changed: posted to whoever asked for them, signed with HMAC-SHA256 over time and body.
/// </summary>
public sealed class MarketNotices : IDisposable
{
    private static readonly TimeSpan Late = TimeSpan.FromMilliseconds(400);

    private readonly Channel<(string Purchase, int Number)> _queue = Channel.CreateUnbounded<(string, int)>();
    private readonly CancellationTokenSource _stop = new();
    private readonly HttpClient _http = new() { Timeout = TimeSpan.FromSeconds(5) };
    private readonly Demo.Dice _dice = new(11);
    private readonly StoreOrders _orders;
    private readonly TimeProvider _clock;
    private int _number;

    public MarketNotices(StoreOrders orders, TimeProvider clock)
    {
        _orders = orders;
        _clock = clock;
        orders.Changed += Notice;
        _ = Task.Run(SendAllAsync);
    }

    /// <summary>Where notices go, and the secret that they are signed with; null: nobody asked for them.</summary>
    public (Uri Address, string Secret)? To { get; set; }

    public NoticeShares Shares { get; set; } = new();

    /// <summary>What the last notice was answered.</summary>
    public string LastAnswer { get; private set; } = "nothing was sent yet";

    public void Dispose()
    {
        _orders.Changed -= Notice;
        _stop.Cancel();
        _http.Dispose();
    }

    private void Notice(StoreOrder order)
    {
        if (To is not null)
            _queue.Writer.TryWrite((order.Id, Interlocked.Increment(ref _number)));
    }

    private async Task SendAllAsync()
    {
        try
        {
            await foreach (var (purchase, number) in _queue.Reader.ReadAllAsync(_stop.Token))
                await SendBadlyAsync(purchase, number);
        }
        catch (OperationCanceledException)
        {
            // The sandbox ends.
        }
    }

    private async Task SendBadlyAsync(string purchase, int number)
    {
        var roll = _dice.Below(1_000_000) / 1_000_000.0;
        bool Falls(double share) => (roll -= share) < 0;
        if (Falls(Shares.Never))
            return;
        if (Falls(Shares.Late))
        {
            _ = Task.Delay(Late, _clock, _stop.Token).ContinueWith(_ => SendAsync(purchase, number), TaskScheduler.Default);
            return;
        }

        var twice = Falls(Shares.Twice);
        await SendAsync(purchase, number);
        if (twice)
            await SendAsync(purchase, number);
    }

    private async Task SendAsync(string purchase, int number)
    {
        if (To is not { } to)
            return;
        var body = JsonSerializer.SerializeToUtf8Bytes(new { notice = $"N-{number}", purchase });
        var time = _clock.GetUtcNow().ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
        using var request = new HttpRequestMessage(HttpMethod.Post, to.Address) { Content = new ByteArrayContent(body) };
        request.Content.Headers.ContentType = new("application/json");
        request.Headers.Add("Clay-Time", time);
        byte[] signed = [.. Encoding.UTF8.GetBytes($"{time}."), .. body];
        request.Headers.Add("Clay-Signature", Convert.ToHexStringLower(HMACSHA256.HashData(Encoding.UTF8.GetBytes(to.Secret), signed)));
        try
        {
            using var answer = await _http.SendAsync(request, _stop.Token);
            LastAnswer = $"{(int)answer.StatusCode}";
        }
        catch (Exception error) when (error is HttpRequestException or TaskCanceledException)
        {
            LastAnswer = error.Message;
        }
    }
}
