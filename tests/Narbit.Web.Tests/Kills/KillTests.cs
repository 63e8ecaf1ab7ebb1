using System.Globalization;

namespace Narbit.Web.Tests;

public sealed class KillTests(ITestOutputHelper output)
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

    // What is one transaction each is killed by the bench alone.
    [Theory]
    [InlineData("desk acts", 45)]
    [InlineData("readings", 2)]
    public async Task Acts_and_readings_that_are_killed_are_whole_or_have_not_begun(string what, int gap)
    {
        await using var narbit = await RunningNarbit.StartAsync(asProcess: true);
        var killing = new Killing(narbit, [gap], most: 1);
        await HardStory.All[what](narbit, killing);
        killing.Kills.ShouldBeGreaterThan(0);
    }

    /// <summary>By ./narbit bench hard; no test. <c>NARBIT_KILLS</c> of them, of <c>NARBIT_STORY</c> alone where that is said.</summary>
    [Fact(Explicit = true)]
    public async Task A_thousand_kills_at_random_points_of_everything_that_is_done()
    {
        var wanted = int.Parse(Environment.GetEnvironmentVariable("NARBIT_KILLS") ?? "1000", CultureInfo.InvariantCulture);
        var only = Environment.GetEnvironmentVariable("NARBIT_STORY");
        var stories = HardStory.All.Where(s => string.IsNullOrEmpty(only) || s.Key == only).ToList();
        var total = stories.ToDictionary(s => s.Key, _ => 0);
        var faults = new List<string>();
        for (var round = 1; total.Values.Sum() < wanted && faults.Count == 0; round++)
            await Parallel.ForEachAsync(
                stories,
                new ParallelOptions { MaxDegreeOfParallelism = 2 },
                async (story, _) =>
                {
                    var (kills, fault) = await ToldAsync(story.Key, story.Value, round);
                    lock (total)
                    {
                        total[story.Key] += kills;
                        if (fault is not null)
                            faults.Add($"{story.Key}, round {round}: {fault}");
                        output.WriteLine($"round {round}, {story.Key}: {kills} kills{(fault is null ? "" : ", a fault")}");
                    }
                }
            );

        output.WriteLine($"{total.Values.Sum()} kills: {string.Join("; ", total.Select(t => $"{t.Key} {t.Value}"))}");
        faults.ShouldBeEmpty();
    }

    private static async Task<(int Kills, string? Fault)> ToldAsync(string name, Func<RunningNarbit, Killing, Task> tell, int round)
    {
        await using var narbit = await RunningNarbit.StartAsync(asProcess: true);
        var random = new Random(20261128 + round * 100 + name.Length);
        var killing = new Killing(narbit, Random(), most: 12, rounds: 5);
        try
        {
            await tell(narbit, killing);
            return (killing.Kills, null);
        }
        catch (Exception error) when (error is ShouldAssertException or TimeoutException or HttpRequestException)
        {
            return (killing.Kills, error.ToString());
        }

        IEnumerable<int> Random()
        {
            while (true)
                yield return random.Next(1, 8);
        }
    }
}
