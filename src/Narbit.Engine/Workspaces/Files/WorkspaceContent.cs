using Narbit.Adapters;
using Narbit.Core.Timetables;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>The files of a workspace, read and checked by themselves: nothing is asked for that is not in them.</summary>
public sealed class WorkspaceContent
{
    private readonly List<WorkspaceFault> _faults = [];

    /// <summary>What holds for all.</summary>
    public WorkspaceDocument? Workspace { get; private set; }

    /// <summary>The systems.</summary>
    public IReadOnlyList<DescribedSystem> Systems { get; private set; } = [];

    /// <summary>The lanes by their short names.</summary>
    public IReadOnlyDictionary<string, WorkspaceLane> Lanes { get; private set; } = new Dictionary<string, WorkspaceLane>();

    /// <summary>The jobs by their short names.</summary>
    public IReadOnlyDictionary<string, JobDocument> Jobs { get; private set; } = new Dictionary<string, JobDocument>();

    /// <summary>The pairings.</summary>
    public IReadOnlyList<DescribedPairs> Pairs { get; private set; } = [];

    /// <summary>All that is wrong.</summary>
    public IReadOnlyList<WorkspaceFault> Faults => _faults;

    /// <summary>The settings that the files ask for.</summary>
    /// <param name="atWork">Who is at the screen; where it is none of the people, the first of them is.</param>
    public WorkspaceSettings Settings(string? atWork) =>
        new()
        {
            Name = Workspace!.Name,
            TimeZone = Workspace.TimeZone,
            Currency = Workspace.Currency,
            Country = Workspace.Country,
            Numbers = Workspace.Numbers,
            Dates = Workspace.Dates,
            FirstDay = Workspace.FirstDay,
            HubId = Workspace.Hub,
            People = Workspace.People,
            Person = Workspace.People.Select(p => p.Name).OrderByDescending(n => n == atWork).FirstOrDefault(""),
        };

    /// <summary>Reads and checks files.</summary>
    public static WorkspaceContent Of(WorkspaceFiles files)
    {
        var content = new WorkspaceContent();
        if (files[WorkspaceText.Workspace] is not { } text)
        {
            content.Fault(WorkspaceText.Workspace, null, "is missing; it says what holds for all, and which systems there are");
            return content;
        }

        var read = WorkspaceText.Read<WorkspaceDocument>(WorkspaceText.Workspace, text, WorkspaceDocument.CurrentFormat, content._faults);
        if (read is null)
            return content;
        content.Workspace = read;
        content.ReadSystems(files, read, text);
        content.ReadLanes(files);
        content.ReadJobs(files);
        content.ReadPairs(files);
        if (WorkspaceDesk.Fault(content.Settings(null)) is { } unfit)
            content.Fault(WorkspaceText.Workspace, null, unfit.Words);
        return content;
    }

    private void Fault(string file, int? line, string words) => _faults.Add(new WorkspaceFault(file, line, words));

    private void ReadSystems(WorkspaceFiles files, WorkspaceDocument workspace, string text)
    {
        var leaves = JsonLeaves.Of(text);
        var systems = new List<DescribedSystem>();
        for (var i = 0; i < workspace.Systems.Count; i++)
        {
            var rights = workspace.Systems[i];
            var line = JsonLeaves.LineOf(leaves, $"systems[{i}].id");
            if (!ShortName.IsOne(rights.Id))
                Fault(WorkspaceText.Workspace, line, ShortName.Words);
            else if (workspace.Systems.Take(i).Any(s => s.Id == rights.Id))
                Fault(WorkspaceText.Workspace, line, $"“{rights.Id}” stands here twice");
            else if (files[WorkspaceText.OfSystem(rights.Id)] is not { } description)
                Fault(WorkspaceText.Workspace, line, $"{WorkspaceText.OfSystem(rights.Id)}, which describes “{rights.Id}”, is missing");
            else if (Described(rights, description, systems) is { } system)
                systems.Add(system);
        }

        foreach (var (path, name, _) in files.In("systems/", ".json"))
            if (workspace.Systems.All(s => s.Id != name))
                Fault(
                    path,
                    null,
                    $"“{name}” is none of the systems that {WorkspaceText.Workspace} names; add it there, or remove this file"
                );
        if (workspace.Hub is { } hub && workspace.Systems.All(s => s.Id != hub))
            Fault(WorkspaceText.Workspace, JsonLeaves.LineOf(leaves, "hub"), $"“{hub}”, the hub, is none of the systems");
        Systems = systems;
    }

    private DescribedSystem? Described(WorkspaceSystem rights, string text, List<DescribedSystem> others)
    {
        var file = WorkspaceText.OfSystem(rights.Id);
        var document = SystemDocument.Read(text);
        if (document.Fault is { } unreadable)
        {
            Fault(file, null, unreadable.Words);
            return null;
        }

        if (others.Find(o => o.Document.Mark == document.Value.Mark) is { } other)
        {
            var line = JsonLeaves.LineOf(JsonLeaves.Of(text), "mark");
            Fault(file, line, $"the mark {document.Value.Mark} is that of “{other.Rights.Id}” already; each system has its own");
            return null;
        }

        return new DescribedSystem(rights, text, document.Value);
    }

    private void ReadLanes(WorkspaceFiles files)
    {
        var lanes = new SortedDictionary<string, WorkspaceLane>(StringComparer.Ordinal);
        foreach (var (path, id, text) in files.In("lanes/", ".json"))
        {
            if (WorkspaceText.Read<WorkspaceLane>(path, text, WorkspaceLane.CurrentFormat, _faults) is not { } lane)
                continue;
            var leaves = JsonLeaves.Of(text);
            foreach (var (at, words) in Wrong(id, lane, lanes))
                Fault(path, JsonLeaves.LineOf(leaves, at), words);
            lanes[id] = lane;
        }

        Lanes = lanes;
    }

    private IEnumerable<(string At, string Words)> Wrong(string id, WorkspaceLane lane, SortedDictionary<string, WorkspaceLane> others)
    {
        if (!ShortName.IsOne(id))
            yield return ("format", $"the file's name is the lane's short name: {ShortName.Words}");
        foreach (var (at, end) in new[] { ("from", lane.From), ("to", lane.To) })
            if (Workspace!.Systems.All(s => s.Id != end))
                yield return (at, $"“{end}” is none of the systems");
        if (lane.From == lane.To)
            yield return ("to", "a lane needs two systems");
        if (lane.EveryMinutes is { } minutes && !new Interval(TimeSpan.FromMinutes(minutes)).Valid)
            yield return ("everyMinutes", "a lane can run every 1 minute to every 24 hours");
        foreach (var fault in lane.Guards?.Check() ?? [])
            yield return ($"guards.{fault.Path}", fault.Message);
        var kind = LaneWorks.Of(lane.Document).Kind;
        foreach (var (other, its) in others)
        {
            if (lane.Name is { } name && string.Equals(its.Name, name, StringComparison.OrdinalIgnoreCase))
                yield return ("name", $"{WorkspaceText.OfLane(other)} is called “{name}” too; tell them apart");
            if (its.From == lane.From && its.To == lane.To && LaneWorks.Of(its.Document).Kind == kind)
                yield return ("from", $"the same flows from {lane.From} to {lane.To} in {WorkspaceText.OfLane(other)} already");
        }
    }

    private void ReadJobs(WorkspaceFiles files)
    {
        var jobs = new SortedDictionary<string, JobDocument>(StringComparer.Ordinal);
        var taken = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var (path, id, text) in files.In("jobs/", ".json"))
        {
            if (WorkspaceText.Read<WorkspaceJob>(path, text, WorkspaceJob.CurrentFormat, _faults) is not { Job: var job })
                continue;
            if (!ShortName.IsOne(id))
                Fault(path, null, $"the file's name is the job's short name: {ShortName.Words}");
            if (JobCheck.Fault(job) is { } fault)
                Fault(path, null, fault.Words);
            foreach (var lane in job.Lanes.Where(l => !taken.TryAdd(l.Lane, path)))
                Fault(path, null, $"“{lane.Lane}” is in {taken[lane.Lane]} already; a lane is in one job only");
            jobs[id] = job;
        }

        foreach (var day in (Workspace!.DaysOff ?? []).Where(d => !JobCheck.IsDate(d.Date)))
            Fault(WorkspaceText.Workspace, null, $"“{day.Date}” is no date; one is 2026-12-24");
        foreach (var (id, lane) in Lanes.Where(l => l.Value.EveryMinutes is not null && taken.TryAdd(l.Key, WorkspaceText.OfLane(l.Key))))
            jobs[id] = OfItsOwn(id, lane);
        Lanes = Lanes.ToDictionary(l => l.Key, l => l.Value with { EveryMinutes = null }, StringComparer.Ordinal);
        Jobs = jobs;
    }

    private JobDocument OfItsOwn(string id, WorkspaceLane lane) =>
        new()
        {
            Name = lane.Name ?? $"{LaneWorks.Of(lane.Document).Label} to {lane.To}",
            Timetable = new Timetable
            {
                Zone = Workspace!.TimeZone,
                Every = new TimetableSteps { Minutes = lane.EveryMinutes!.Value },
            },
            Lanes = [new LaneInJob(id)],
        };

    private void ReadPairs(WorkspaceFiles files)
    {
        var pairs = new List<DescribedPairs>();
        foreach (var (path, _, text) in files.In("pairs/", ".json"))
        {
            if (WorkspaceText.Read<WorkspacePairs>(path, text, WorkspacePairs.CurrentFormat, _faults) is not { } how)
                continue;
            if (path != WorkspaceText.OfPairs(how.Kind, how.Hub, how.Other))
                Fault(path, null, $"such a pairing is kept in {WorkspaceText.OfPairs(how.Kind, how.Hub, how.Other)}");
            foreach (var end in new[] { how.Hub, how.Other }.Where(e => Workspace!.Systems.All(s => s.Id != e)))
                Fault(path, null, $"“{end}” is none of the systems");
            var table = WorkspaceText.TableBeside(path);
            if (files[table] is not { } lines)
                Fault(path, null, $"{table}, the table of its pairs, is missing");
            else
                pairs.Add(new DescribedPairs(path, how, Checked(table, WorkspaceText.ReadPairs(table, lines, _faults))));
        }

        foreach (var (path, _, _) in files.In("pairs/", ".csv"))
            if (files[Path.ChangeExtension(path, ".json")] is null)
                Fault(path, null, $"{Path.ChangeExtension(path, ".json")}, which says what it pairs, is missing");
        Pairs = pairs;
    }

    // A record of the other system is one of the hub's, or a kit of several; one that is paired is not set aside as well.
    private IReadOnlyList<(int Number, WorkspacePairLine Line)> Checked(
        string table,
        IReadOnlyList<(int Number, WorkspacePairLine Line)> lines
    )
    {
        var others = new Dictionary<string, PairLineKind>(StringComparer.Ordinal);
        var hubs = lines
            .Select(l => l.Line)
            .Where(l => l.What == PairLineKind.Pair)
            .Select(l => l.HubKey!)
            .ToHashSet(StringComparer.Ordinal);
        foreach (var (number, line) in lines)
        {
            var isPart = line.What == PairLineKind.Part;
            if (line.OtherKey is { } other && !others.TryAdd(other, line.What) && !(isPart && others[other] == PairLineKind.Part))
                Fault(table, number, $"{other} is decided in another line already");
            else if (line is { OtherKey: null, HubKey: { } hub } && !hubs.Add(hub))
                Fault(table, number, $"{hub} is decided in another line already");
        }

        return lines;
    }
}

/// <summary>Short names, which stand in addresses and are names of files.</summary>
internal static class ShortName
{
    /// <summary>The most characters.</summary>
    public const int Longest = 80;

    /// <summary>What is asked of one.</summary>
    public static string Words { get; } = $"a short name has small letters, digits and hyphens, at most {Longest}";

    /// <summary>Whether it is one.</summary>
    public static bool IsOne(string name) =>
        name.Length is > 0 and <= Longest && name.All(c => c is >= 'a' and <= 'z' or >= '0' and <= '9' or '-');
}
