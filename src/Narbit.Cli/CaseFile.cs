using System.Buffers;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Pricing;
using Narbit.Core.Stock;

namespace Narbit.Cli;

/// <summary>Computes a file of cases: a line in, a line out, in the same order.</summary>
public static class CaseFile
{
    private const int LongestLine = 16 * 1024 * 1024;

    /// <summary>
    /// Turns one line into a result; throws <see cref="JsonException"/>, <see cref="ArgumentException"/> or <see
    /// cref="OverflowException"/> with the reason where it cannot.
    /// </summary>
    public delegate void Compute(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results);

    /// <summary>A line with a price rule and an item.</summary>
    public static void Price(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results)
    {
        var (rule, item, _) =
            JsonSerializer.Deserialize<PriceCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        if (rule is null || item is null)
            throw new ArgumentException(rule is null ? "“rule” is missing" : "“item” is missing");
        if (item.Decimals is < 0 or > 6)
            throw new ArgumentException("item.decimals must be from 0 to 6");
        results.Write(JsonSerializer.SerializeToUtf8Bytes(rule.Price(item), RuleJson.Options));
    }

    /// <summary>A line with a stock rule and an item.</summary>
    public static void Stock(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results)
    {
        if (StockLine.TryRead(line, out var ordinary, out var stocked))
        {
            StockLine.Write(ordinary.Quantity(stocked), results);
            return;
        }

        var (rule, item, _) =
            JsonSerializer.Deserialize<StockCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        if (rule is null || item is null)
            throw new ArgumentException(rule is null ? "“rule” is missing" : "“item” is missing");
        StockLine.Write(rule.Quantity(item), results);
    }

    /// <summary>A line with an order rule, an order and what the hub knows.</summary>
    public static void Order(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results)
    {
        var (rule, order, known, _) = OrderCaseLine.TryRead(line, out var ordinary)
            ? ordinary
            : JsonSerializer.Deserialize<OrderCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        if (rule is null || order is null)
            throw new ArgumentException(rule is null ? "“rule” is missing" : "“order” is missing");
        if (order.Decimals is < 0 or > 6)
            throw new ArgumentException("order.decimals must be from 0 to 6");
        if (order.Lines.FirstOrDefault(l => l.Quantity < 1) is { } none)
            throw new ArgumentException($"the quantity of line {none.Id} must be at least 1");
        OrderResultLine.Write(rule.Compute(order, known ?? new KnownToHub()), results);
    }

    /// <summary>A line with a timetable, and how many of its times are wanted.</summary>
    public static void Timetable(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results) => TimetableLine.Compute(line, results);

    /// <summary>A line with orders that happened, and how often stores are read and told.</summary>
    public static void Replay(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results) => ReplayLine.Compute(line, results);

    /// <summary>Runs a command line: 0 when every line went well, 1 when one did not or a file cannot be used, 2 on wrong usage.</summary>
    public static async Task<int> RunAsync(string name, string[] args, Compute compute)
    {
        if (args is not ["--in", var input, "--out", var output])
        {
            if (args is ["--out", var o, "--in", var i])
                (output, input) = (o, i);
            else
            {
                await Console.Error.WriteLineAsync($"usage: narbit {name} --in cases.jsonl --out results.jsonl");
                return 2;
            }
        }

        try
        {
            if (Path.GetFullPath(input) == Path.GetFullPath(output))
                throw new IOException("--in and --out are the same file; give the results a file of their own");
            await using var source = new FileStream(input, FileMode.Open, FileAccess.Read, FileShare.Read, 1, FileOptions.SequentialScan);
            await using var target = new FileStream(output, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
            var bad = await RunAsync(source, target, compute);
            if (bad > 0)
                await Console.Error.WriteLineAsync(
                    $"{bad} {(bad == 1 ? "line" : "lines")} could not be computed; each has its error in {output}"
                );
            return bad > 0 ? 1 : 0;
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            await Console.Error.WriteLineAsync($"narbit {name}: {error.Message}");
            return 1;
        }
    }

    /// <summary>Computes every line of a stream and returns how many could not be computed.</summary>
    public static async Task<int> RunAsync(Stream source, Stream target, Compute compute)
    {
        var results = new ArrayBufferWriter<byte>(1 << 18);
        var buffer = new byte[1 << 17];
        var (filled, number, bad) = (0, 0, 0);
        while (true)
        {
            if (filled == buffer.Length)
            {
                if (filled >= LongestLine)
                    throw new IOException(
                        $"line {number + 1} is longer than {LongestLine / 1024 / 1024} MiB; is this a file of JSON lines?"
                    );
                Array.Resize(ref buffer, buffer.Length * 2);
            }

            var read = await source.ReadAsync(buffer.AsMemory(filled));
            filled += read;
            var done = 0;
            for (int length; (length = buffer.AsSpan(done, filled - done).IndexOf((byte)'\n')) >= 0; done += length + 1)
                if (!Line(buffer.AsSpan(done, length), ++number, compute, results))
                    bad++;
            if (read == 0 && done < filled)
            {
                if (!Line(buffer.AsSpan(done, filled - done), ++number, compute, results))
                    bad++;
                done = filled;
            }

            buffer.AsSpan(done, filled - done).CopyTo(buffer);
            filled -= done;
            await target.WriteAsync(results.WrittenMemory);
            results.ResetWrittenCount();
            if (read == 0)
                return bad;
        }
    }

    private static bool Line(ReadOnlySpan<byte> line, int number, Compute compute, ArrayBufferWriter<byte> results)
    {
        string? fault = null;
        try
        {
            compute(line, results);
        }
        catch (JsonException error)
        {
            fault = RuleJson.Explain(error);
        }
        catch (Exception error) when (error is ArgumentException or OverflowException)
        {
            fault = error.Message;
        }

        // Nothing of a result is written before all of it is computed.
        if (fault is not null)
            results.Write(JsonSerializer.SerializeToUtf8Bytes(new { error = $"line {number}: {fault}" }, RuleJson.Options));
        results.Write("\n"u8);
        return fault is null;
    }
}
