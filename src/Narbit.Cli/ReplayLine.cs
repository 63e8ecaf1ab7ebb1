using System.Buffers;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Timetables;

namespace Narbit.Cli;

/// <summary>What timetables would have made of orders that really happened.</summary>
internal static class ReplayLine
{
    // As it stands in a file, with what was expected.
    private sealed record ReplayCase
    {
        public DateTimeOffset? From { get; init; }

        public Dictionary<string, long>? Stock { get; init; }

        public Dictionary<string, int>? Intake { get; init; }

        public Dictionary<string, int>? Publish { get; init; }

        public List<ReplayedOrder> Orders { get; init; } = [];

        public List<ReplayedDelivery> Deliveries { get; init; } = [];

        public JsonElement? Expect { get; init; }
    }

    /// <summary>Computes a line.</summary>
    public static void Compute(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results)
    {
        var replay = ReplayReader.Read(line) ?? Deserialized(line);
        var result = replay.Run();
        if (result.Fault is { } fault)
            throw new ArgumentException(fault.Words.TrimEnd('.'));
        results.Write(JsonSerializer.SerializeToUtf8Bytes(result.Value, RuleJson.Options));
    }

    private static StockReplay Deserialized(ReadOnlySpan<byte> line)
    {
        var read = JsonSerializer.Deserialize<ReplayCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        return new StockReplay
        {
            From = read.From ?? throw new ArgumentException("“from” is missing"),
            Stock = read.Stock ?? throw new ArgumentException("“stock” is missing"),
            Intake = read.Intake ?? throw new ArgumentException("“intake” is missing"),
            Publish = read.Publish ?? throw new ArgumentException("“publish” is missing"),
            Orders = read.Orders,
            Deliveries = read.Deliveries,
        };
    }
}
