using System.Buffers;
using System.IO.Pipelines;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Pricing;
using Narbit.Core.Stock;

namespace Narbit.Cli;

/// <summary>Computes a file of cases: a line in, a line out, in the same order.</summary>
public static class CaseFile
{
    private const int LongestLine = 16 * 1024 * 1024;

    /// <summary>Turns one line into a result; throws <see cref="JsonException"/>, <see cref="ArgumentException"/> or <see cref="OverflowException"/> with the reason where it cannot.</summary>
    public delegate void Compute(ReadOnlySpan<byte> line, Utf8JsonWriter result);

    /// <summary>A line with a price rule and an item.</summary>
    public static void Price(ReadOnlySpan<byte> line, Utf8JsonWriter result)
    {
        var (rule, item, _) = JsonSerializer.Deserialize<PriceCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        if (rule is null || item is null) throw new ArgumentException(rule is null ? "“rule” is missing" : "“item” is missing");
        if (item.Decimals is < 0 or > 6) throw new ArgumentException("item.decimals must be from 0 to 6");
        JsonSerializer.Serialize(result, rule.Price(item), RuleJson.Options);
    }

    /// <summary>A line with a stock rule and an item.</summary>
    public static void Stock(ReadOnlySpan<byte> line, Utf8JsonWriter result)
    {
        var (rule, item, _) = JsonSerializer.Deserialize<StockCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        if (rule is null || item is null) throw new ArgumentException(rule is null ? "“rule” is missing" : "“item” is missing");
        JsonSerializer.Serialize(result, rule.Quantity(item), RuleJson.Options);
    }

    /// <summary>Runs a command line: 0 when every line went well, 1 when one did not or a file cannot be used, 2 on wrong usage.</summary>
    public static async Task<int> RunAsync(string name, string[] args, Compute compute)
    {
        if (args is not ["--in", var input, "--out", var output])
        {
            if (args is ["--out", var o, "--in", var i]) (output, input) = (o, i);
            else
            {
                await Console.Error.WriteLineAsync($"usage: narbit {name} --in cases.jsonl --out results.jsonl");
                return 2;
            }
        }

        try
        {
            if (Path.GetFullPath(input) == Path.GetFullPath(output)) throw new IOException("--in and --out are the same file; give the results a file of their own");
            await using var source = new FileStream(input, FileMode.Open, FileAccess.Read, FileShare.Read, 1, FileOptions.SequentialScan);
            await using var target = new FileStream(output, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
            var bad = await RunAsync(source, target, compute);
            if (bad > 0) await Console.Error.WriteLineAsync($"{bad} {(bad == 1 ? "line" : "lines")} could not be computed; each has its error in {output}");
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
        var reader = PipeReader.Create(source, new StreamPipeReaderOptions(bufferSize: 1 << 16));
        var results = new ArrayBufferWriter<byte>(1 << 16);
        using var json = new Utf8JsonWriter(results, new JsonWriterOptions { SkipValidation = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping });
        var (number, bad) = (0, 0);
        while (true)
        {
            var read = await reader.ReadAsync();
            var buffer = read.Buffer;
            while (TakeLine(ref buffer, read.IsCompleted, out var line))
            {
                if (!Line(line, ++number, compute, results, json)) bad++;
            }

            if (buffer.Length > LongestLine) throw new IOException($"line {number + 1} is longer than {LongestLine:N0} bytes; is this a file of JSON lines?");
            await target.WriteAsync(results.WrittenMemory);
            results.ResetWrittenCount();
            reader.AdvanceTo(buffer.Start, buffer.End);
            if (read.IsCompleted) return bad;
        }
    }

    private static bool TakeLine(ref ReadOnlySequence<byte> buffer, bool atEnd, out ReadOnlySequence<byte> line)
    {
        if (buffer.PositionOf((byte)'\n') is { } end)
        {
            line = buffer.Slice(0, end);
            buffer = buffer.Slice(buffer.GetPosition(1, end));
            return true;
        }

        line = buffer;
        if (!atEnd || buffer.IsEmpty) return false;
        buffer = buffer.Slice(buffer.End);
        return true;
    }

    private static bool Line(ReadOnlySequence<byte> line, int number, Compute compute, ArrayBufferWriter<byte> results, Utf8JsonWriter json)
    {
        var start = results.WrittenCount;
        json.Reset();
        string? fault = null;
        try
        {
            compute(line.IsSingleSegment ? line.FirstSpan : line.ToArray(), json);
        }
        catch (JsonException error)
        {
            fault = RuleJson.Explain(error);
        }
        catch (Exception error) when (error is ArgumentException or OverflowException)
        {
            fault = error.Message;
        }

        if (fault is not null)
        {
            // A result that broke off half-way was not flushed yet, so nothing of it is in the file.
            json.Reset();
            json.WriteStartObject();
            json.WriteString("error", $"line {number}: {fault}");
            json.WriteEndObject();
        }

        json.Flush();
        results.Write("\n"u8);
        return fault is null && results.WrittenCount > start;
    }
}
