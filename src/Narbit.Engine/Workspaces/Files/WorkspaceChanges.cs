using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>What taking files in would change, or has changed.</summary>
/// <param name="File">The file.</param>
/// <param name="Line">The line in it; null: all of it.</param>
/// <param name="Words">What becomes of what.</param>
public sealed record WorkspaceChange(string File, int? Line, string Words);

/// <summary>Compares files with a workspace as it is; pure.</summary>
/// <param name="now">The workspace's own files.</param>
/// <param name="files">The files.</param>
internal sealed class WorkspaceChanges(WorkspaceFiles now, WorkspaceFiles files)
{
    private readonly List<WorkspaceChange> _all = [];

    /// <summary>Every change that the files ask for, file by file.</summary>
    public IReadOnlyList<WorkspaceChange> Of(WorkspaceContent content)
    {
        Compare(WorkspaceText.Workspace, WorkspaceText.Write(content.Workspace), "the workspace is set up");
        foreach (var system in content.Systems)
        {
            var file = WorkspaceText.OfSystem(system.Rights.Id);
            var isNew = $"new: {system.Document.Name}, at {system.Document.Address}{Lacking(system)}";
            Compare(file, WorkspaceText.Description(system.Text, system.Document.Address), isNew);
        }

        foreach (var (id, lane) in content.Lanes)
        {
            var flows = $"{LaneWorks.Of(lane.Document).Label} from {lane.From} to {lane.To}";
            Compare(WorkspaceText.OfLane(id), WorkspaceText.Write(lane), $"new: {flows}");
        }

        foreach (var (id, job) in content.Jobs)
            CompareJob(id, job);
        foreach (var pairs in content.Pairs)
        {
            Compare(pairs.File, WorkspaceText.Write(pairs.Pairs), "the two are paired as it says");
            CompareLines(pairs);
        }

        return _all;
    }

    // A lane's own job, from before there were jobs, stands in the lane's file.
    private void CompareJob(string id, JobDocument job)
    {
        var file = WorkspaceText.OfJob(id);
        var wanted = WorkspaceText.Write(new WorkspaceJob { Format = WorkspaceJob.CurrentFormat, Job = job });
        if (files[file] is not null)
            Compare(file, wanted, $"new: the job “{job.Name}”");
        else if (now[file] != wanted)
            _all.Add(
                new WorkspaceChange(WorkspaceText.OfLane(id), null, $"the job “{job.Name}” runs it {TimetableWords.Of(job.Timetable!)}")
            );
    }

    private static string Lacking(DescribedSystem system) =>
        system.Document.SignsInWith == "none" ? "" : "; its credentials are entered in Narbit, they stand in no file";

    private void Compare(string file, string wanted, string isNew)
    {
        if (now[file] is not { } mine)
        {
            _all.Add(new WorkspaceChange(file, null, isNew));
            return;
        }

        var before = JsonLeaves.Of(mine);
        var after = JsonLeaves.Of(wanted);
        var written = JsonLeaves.Of(files[file]!);
        // A description may say a name twice; the last one counts.
        var held = before
            .GroupBy(l => l.Path, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Last().Value, StringComparer.Ordinal);
        var changes = new List<WorkspaceChange>();
        foreach (var leaf in after)
            if (held.TryGetValue(leaf.Path, out var value) && value != leaf.Value)
                Add(leaf.Path, $"{leaf.Path}: {value} becomes {leaf.Value}");
        foreach (var (path, values) in JsonLeaves.Besides(after, before))
            Add(path, $"{path}: {values}");
        foreach (var (path, values) in JsonLeaves.Besides(before, after))
            Add(path, $"{path}: {values} goes");
        _all.AddRange(changes.OrderBy(c => c.Line));

        void Add(string path, string words) => changes.Add(new WorkspaceChange(file, JsonLeaves.LineOf(written, path), words));
    }

    private void CompareLines(DescribedPairs pairs)
    {
        var table = WorkspaceText.TableBeside(pairs.File);
        var known = now[table] is { } mine
            ? WorkspaceText.ReadPairs(table, mine, []).Select(l => l.Line).ToHashSet()
            : new HashSet<WorkspacePairLine>();
        foreach (var (number, line) in pairs.Lines.Where(l => !known.Contains(l.Line)))
            _all.Add(new WorkspaceChange(table, number, Said(line)));
    }

    /// <summary>A line of a pair table in words.</summary>
    public static string Said(WorkspacePairLine line) =>
        line.What switch
        {
            PairLineKind.Pair => $"{line.HubKey} is {line.OtherKey}",
            PairLineKind.Part => $"{line.OtherKey} has {Numbers.Plain(line.Quantity)} × {line.HubKey}",
            PairLineKind.Create => $"{line.HubKey ?? line.OtherKey} is to be created on the other side",
            _ => $"{line.HubKey ?? line.OtherKey} is set aside: {line.Reason}",
        };
}
