using System.Diagnostics;
using System.Text.Json.Nodes;
using Narbit.Adapters;
using Narbit.Sandbox;

namespace Narbit.Web.Tests;

/// <summary>Kills Narbit with SIGKILL while something is at work, again and again until it is over, and counts how often.</summary>
/// <param name="narbit">A demo that is a process of its own.</param>
/// <param name="gaps">Signs of life between two kills; begun anew at the end.</param>
/// <param name="most">The most kills in one piece of work.</param>
/// <param name="rounds">How often what is over quickly is done.</param>
internal sealed class Killing(RunningNarbit narbit, IEnumerable<int> gaps, int most, int rounds = 1)
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(4);

    private readonly IEnumerator<int> _gaps = Endless(gaps).GetEnumerator();
    private int _acts;

    /// <summary>How often what is over quickly is done.</summary>
    public int Rounds => rounds;

    /// <summary>Kills so far.</summary>
    public int Kills { get; private set; }

    /// <summary>Starts a run, and kills the process after so many requests and files of it, until the run is over.</summary>
    /// <returns>The run.</returns>
    public async Task<long> RunAsync(Func<Task<long>> start)
    {
        long run = 0;
        await WorkAsync(async () => run = await start(), () => OverAsync(run));
        return run;
    }

    /// <summary>Starts what goes on by itself, also after a new start, and kills the process until it is over.</summary>
    /// <param name="start">Starts it, once.</param>
    /// <param name="isOver">Whether it is; false while nobody answers. It may push on what was left lying, as a person would.</param>
    public async Task WorkAsync(Func<Task> start, Func<Task<bool>> isOver)
    {
        var life = Asked();
        await start();
        for (var kills = 0; kills < most && !await OverBeforeAsync(life, isOver); kills++)
        {
            await KillAsync();
            life.Dispose();
            life = Asked();
            await narbit.BeginAsync();
        }

        life.Dispose();
        await narbit.UntilAsync(() => AnsweredAsync(isOver), Longest);
    }

    /// <summary>Asks for an act and kills the process while it works, until it was carried out.</summary>
    /// <param name="act">Asks for it.</param>
    /// <param name="isDone">Whether it was carried out; asked before each time, and where half an act would be found.</param>
    public async Task ActAsync(Func<Task<HttpResponseMessage>> act, Func<Task<bool>> isDone)
    {
        for (var kills = 0; !await isDone(); )
        {
            using var life = Written();
            var answer = act();
            if (kills < most)
                await Task.WhenAny(life.Enough, answer);
            if (answer.IsCompletedSuccessfully || kills >= most)
            {
                using var done = await answer;
                done.IsSuccessStatusCode.ShouldBeTrue(await done.Content.ReadAsStringAsync());
                continue;
            }

            await KillAsync();
            kills++;
            await ForgottenAsync(answer);
            await narbit.BeginAsync();
        }
    }

    /// <summary>Runs, and all that was sent is confirmed.</summary>
    /// <param name="start">Starts a run.</param>
    /// <param name="givesUp">
    /// Whether a run may give up what a system failed over twice, as it has no keys: the next run makes it. Nothing else is let pass.
    /// </param>
    /// <returns>The last run, and what was confirmed by it and those before.</returns>
    public async Task<(long Run, List<JsonNode> Confirmed)> SettledAsync(Func<Task<long>> start, bool givesUp = false)
    {
        var confirmed = new List<JsonNode>();
        for (var runs = 1; ; runs++)
        {
            var run = await RunAsync(start);
            var sent = givesUp ? await SentAsync(run) : await ConfirmedAsync(run);
            confirmed.AddRange(sent.Where(w => State(w) == "confirmed"));
            var open = sent.Where(w => State(w) != "confirmed").ToList();
            if (open.Count == 0)
                return (run, confirmed);
            var said = string.Join('\n', open.Select(w => w.ToJsonString()));
            open.ShouldAllBe(w => State(w) == "failed" && w["fate"]!["code"]!.GetValue<string>() == FaultCodes.ServerError, said);
            runs.ShouldBeLessThan(5, said);
        }
    }

    /// <summary>Every write of a run that is over; what was not held is confirmed.</summary>
    public async Task<List<JsonNode>> ConfirmedAsync(long run)
    {
        var sent = await SentAsync(run);
        sent.Where(w => State(w) != "confirmed").Select(w => w.ToJsonString()).ShouldBeEmpty();
        return sent;
    }

    private static string State(JsonNode write) => write["state"]!.GetValue<string>();

    /// <summary>Every write of a run that was not held.</summary>
    public async Task<List<JsonNode>> SentAsync(long run)
    {
        var writes = new List<JsonNode>();
        for (var offset = 0; ; offset += 500)
        {
            var rows = (await narbit.GetAsync($"/api/runs/{run}/writes?limit=500&offset={offset}"))["rows"]!.AsArray();
            writes.AddRange(rows.Select(r => r!));
            if (rows.Count < 500)
                break;
        }

        return [.. writes.Where(w => State(w) != "held")];
    }

    private Task KillAsync()
    {
        Kills++;
        return narbit.KillAsync();
    }

    private static async Task ForgottenAsync(Task<HttpResponseMessage> answer)
    {
        try
        {
            (await answer).Dispose();
        }
        catch (HttpRequestException)
        {
            // Whoever would have answered was killed.
        }
    }

    private static async Task<bool> OverBeforeAsync(SignsOfLife life, Func<Task<bool>> isOver)
    {
        var since = Stopwatch.GetTimestamp();
        while (!life.Enough.IsCompleted)
        {
            // What neither goes on nor is over has been lost.
            if (Stopwatch.GetElapsedTime(since) > Longest)
                throw new TimeoutException($"For {Longest.TotalMinutes} minutes there was no sign of life, and it was not over.");
            if (await AnsweredAsync(isOver))
                return !life.Enough.IsCompleted;
            await Task.WhenAny(life.Enough, Task.Delay(100));
        }

        return false;
    }

    private static async Task<bool> AnsweredAsync(Func<Task<bool>> isOver)
    {
        try
        {
            return await isOver();
        }
        catch (HttpRequestException)
        {
            return false;
        }
    }

    // A run that a fault has failed is tried again, as a person would.
    private async Task<bool> OverAsync(long run)
    {
        var state = (await narbit.GetAsync($"/api/runs/{run}"))["run"]!["state"]!.GetValue<string>();
        if (state == "failed")
            await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/again");
        return state is not ("working" or "failed");
    }

    private SignsOfLife Asked() => SignsOfLife.Asked(narbit.Sandbox, Gap());

    // Pages are written one by one; some works are killed at their first, others are let go on.
    private SignsOfLife Written() => SignsOfLife.Written(narbit.Folder, _acts++ % 2 == 0 ? 1 + Gap() / 3 : 5 * Gap());

    private int Gap()
    {
        _gaps.MoveNext();
        return _gaps.Current;
    }

    private static IEnumerable<int> Endless(IEnumerable<int> gaps)
    {
        while (true)
            foreach (var gap in gaps)
                yield return gap;
    }
}

/// <summary>Counts what shows from outside that something is at work.</summary>
internal sealed class SignsOfLife : IDisposable
{
    private readonly TaskCompletionSource _enough = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private readonly FileSystemWatcher _files;
    private readonly IReadOnlyList<Sandbox.Faults.FaultDial> _dials;
    private int _left;

    private SignsOfLife(FileSystemWatcher files, IEnumerable<Sandbox.Faults.FaultDial> dials, int enough)
    {
        (_files, _dials, _left) = (files, [.. dials], enough);
        foreach (var dial in _dials)
            dial.Asked += Sign;
        _files.Renamed += Seen;
        _files.Changed += Seen;
        _files.EnableRaisingEvents = true;
    }

    /// <summary>Completes once there were enough of them.</summary>
    public Task Enough => _enough.Task;

    /// <summary>Requests that reach the stand-ins, and files that are dropped in or written by the till.</summary>
    public static SignsOfLife Asked(SandboxHost sandbox, int enough) =>
        new(
            new FileSystemWatcher(sandbox.TillFolders.Folder, "*.csv")
            {
                IncludeSubdirectories = true,
                NotifyFilter = NotifyFilters.FileName,
            },
            sandbox.Dials.Values,
            enough
        );

    /// <summary>Pages that are written to the database.</summary>
    public static SignsOfLife Written(string folder, int enough) =>
        new(new FileSystemWatcher(folder, "narbit.db-wal") { NotifyFilter = NotifyFilters.LastWrite | NotifyFilters.Size }, [], enough);

    private void Sign()
    {
        if (Interlocked.Decrement(ref _left) == 0)
            _enough.TrySetResult();
    }

    private void Seen(object sender, FileSystemEventArgs e) => Sign();

    public void Dispose()
    {
        _files.Dispose();
        foreach (var dial in _dials)
            dial.Asked -= Sign;
    }
}
