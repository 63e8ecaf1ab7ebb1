namespace Narbit.Web.Tests;

public sealed class KillTests
{
    // Signs of life between two kills: requests that reach the stand-ins, or files that are dropped; while reading, computing, sending
    // and confirming. Each run is killed at its first sign and at the first after that, as the shortest may be over after a few.
    private static readonly int[] Gaps = [1, 1, 4];

    [Fact]
    public async Task Runs_that_are_killed_again_and_again_lose_nothing_and_do_nothing_twice()
    {
        await using var narbit = await RunningNarbit.StartAsync(asProcess: true);
        var kills = await KilledStory.TellAsync(narbit, Gaps, most: 3);
        kills.Values.Sum().ShouldBeGreaterThanOrEqualTo(12);
        kills.ShouldAllBe(k => k.Value > 0);
    }

    /// <summary>By ./narbit bench kills; no test.</summary>
    [Fact(Explicit = true)]
    public async Task Two_hundred_kills_at_random_points()
    {
        var random = new Random(20261128);
        var total = new SortedDictionary<string, int>(StringComparer.Ordinal);
        var wanted = int.Parse(
            Environment.GetEnvironmentVariable("NARBIT_KILLS") ?? "200",
            System.Globalization.CultureInfo.InvariantCulture
        );
        while (total.Values.Sum() < wanted)
        {
            await using var narbit = await RunningNarbit.StartAsync(asProcess: true);
            foreach (var (story, kills) in await KilledStory.TellAsync(narbit, Random(), most: int.MaxValue))
                total[story] = total.GetValueOrDefault(story) + kills;
        }

        var told = string.Join(", ", total.Select(t => $"{t.Key} {t.Value}"));
        Console.WriteLine($"{total.Values.Sum()} kills: {told}; nothing lost, nothing done twice");

        IEnumerable<int> Random()
        {
            while (true)
                yield return random.Next(1, 8);
        }
    }
}
