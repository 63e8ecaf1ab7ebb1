using System.Text.Json;
using Narbit.Core.Records;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Tests;

/// <summary>Rows as the mirror gives them back.</summary>
public sealed class StoredRowsTests
{
    private static readonly string[] Awkward =
    [
        "",
        "plain",
        "käse “quoted” \\ \"\n\t",
        "\u0001\u2028",
        "emoji 🏺",
        "{\"not\":\"an object\"}",
        new string('x', 5_000),
    ];

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Stored_values_are_read_as_the_serializer_reads_them(int seed)
    {
        // Few names, as in a real mirror, but in any order, and some of them new.
        var dice = new Random(seed);
        for (var round = 0; round < 300; round++)
        {
            var values = new Dictionary<string, string>(StringComparer.Ordinal);
            for (var n = dice.Next(14); n > 0; n--)
                values[dice.Next(5) == 0 ? $"{Awkward[dice.Next(1, 5)]}{dice.Next(3)}" : $"field{dice.Next(12)}"] = Awkward[
                    dice.Next(Awkward.Length)
                ];
            StoredRecord.Values(JsonSerializer.Serialize(values)).ShouldBe(values, ignoreOrder: true);
        }
    }

    [Fact]
    public void More_names_than_a_system_could_have_are_no_trouble()
    {
        for (var i = 0; i < 2_000; i++)
            StoredRecord
                .Values($$"""{"name{{i}}":"{{i}}","sku":"A"}""")
                .ShouldBe(new Dictionary<string, string> { [$"name{i}"] = $"{i}", ["sku"] = "A" }, ignoreOrder: true);
        Should.Throw<JsonException>(() => StoredRecord.Values("[1]"));
        Should.Throw<JsonException>(() => StoredRecord.Values("""{"sku":"""));
    }

    [Fact]
    public async Task Rows_that_are_fetched_ahead_come_in_order_and_may_be_left_halfway()
    {
        await using var bench = await Workbench.OpenAsync(1_500);
        await bench.Reader.ReadSystemAsync("back-office", full: true, default);
        var mirror = new MirrorStore(bench.Database);
        var all = new List<string>();
        await foreach (var row in mirror.RowsAsync("back-office", RecordKind.Item, default))
            all.Add(row.Key);
        all.Count.ShouldBe(1_500);
        all.ShouldBeInOrder();

        // Whoever has seen enough leaves nothing running behind that holds the file.
        for (var i = 0; i < 20; i++)
        {
            await foreach (var row in mirror.RowsAsync("back-office", RecordKind.Item, default))
            {
                row.Key.ShouldBe(all[0]);
                break;
            }
        }

        using var stop = new CancellationTokenSource();
        await Should.ThrowAsync<OperationCanceledException>(async () =>
        {
            await foreach (var row in mirror.RowsAsync("back-office", RecordKind.Item, stop.Token))
                await stop.CancelAsync();
        });
        var none = 0;
        await foreach (var row in mirror.RowsAsync("nobody", RecordKind.Item, default))
            none++;
        none.ShouldBe(0);
    }
}
