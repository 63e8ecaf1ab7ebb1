using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Maps;

namespace Narbit.Cli;

/// <summary>
/// Compares two tables by a lane, row by row, on all cores, and writes what would change. Rows that are alike to the letter need no
/// computing; the others go through the very computation that a run uses.
/// </summary>
internal sealed class Preview
{
    private const int Chunk = 4096;
    private readonly LaneFile _file;
    private readonly CsvBytes _left;
    private readonly CsvBytes _right;
    private readonly LaneSides _sides;
    private readonly LaneComputation? _computation;
    private readonly FieldMap? _map;
    private readonly string[] _looksHere = [];
    private readonly string[] _looksThere = [];
    private readonly (int Left, int Right)[] _asTheyAre = [];
    private readonly bool _allAsTheyAre;
    private readonly bool _wholeRows;
    private readonly GuardWatch _watch;

    public Preview(LaneFile file, CsvBytes left, CsvBytes right, DateTimeOffset at)
    {
        _file = file;
        _left = left;
        _right = right;
        _watch = new GuardWatch(file.Guards ?? new GuardLimits());
        var source = Fields(file.Source, left);
        _sides = new LaneSides
        {
            SourceName = file.Source.System ?? "the left table",
            TargetName = file.Target.System ?? "the right table",
            Source = source,
            Target = Fields(file.Target, right),
            Levels = source,
            Creates = true,
            Ends = true,
        };
        var work = LaneWorks.Of(file.Document);
        _map = (file.Document as ItemDocument)?.Map;
        Fault = Unfit(work, file.Document);
        if (Fault is not null)
            return;
        _computation = work.Computing.Computation(file.Document, _sides, at).Value;
        _looksHere = [.. source.Fields.Select(f => f.Name)];
        if (_map is null || ReadyMap.Make(_map, _sides.Map, out _) is not { } ready)
            return;
        (_looksHere, _looksThere) = ([.. ready.Looks], [.. ready.Fields.Select(f => f.Target.Name)]);
        ReadyField[] asItIs = [.. ready.Fields.Where(AsItIs)];
        _asTheyAre = [.. asItIs.Select(f => (IndexOf(left, f.Mapping.Source.Fields![0]), IndexOf(right, f.Target.Name)))];
        _allAsTheyAre = asItIs.Length == ready.Fields.Count && _map.Filters.Count == 0 && Withdraws(_map) is false;
        _wholeRows =
            _allAsTheyAre
            && left.Columns.SequenceEqual(right.Columns)
            && file.Source.Key == file.Target.Key
            && _asTheyAre.All(f => f.Left == f.Right);
    }

    private IReadOnlyList<RuleFault>? Unfit(LaneWork work, LaneDocument document)
    {
        if (work.Computing.Unfit(_sides) is { } unfit)
            return [new RuleFault("target.fields", Severity.Refuse, unfit.Words)];
        if (document is not ItemDocument)
            return null;
        var faults = work.Computing.Check(document, _sides, []).Where(f => f.Severity == Severity.Refuse).ToList();
        return faults.Count == 0 ? null : [.. faults.Select(f => LaneFiles.InFile(_file, f))];
    }

    // What is hidden or ended is so by what is in the row, which then has to be looked at.
    private static bool Withdraws(FieldMap map) =>
        map.Publish.WhenHidden != Withdrawal.Leave || map.Publish.WhenOutOfStock != Withdrawal.Leave;

    public IReadOnlyList<RuleFault>? Fault { get; }

    public int Compared { get; private set; }

    public int Changed { get; private set; }

    public int New { get; private set; }

    public int Gone { get; private set; }

    public int Failed { get; private set; }

    public IReadOnlyList<TrippedGuard> Tripped => _watch.Tripped(Compared, Failed, null);

    /// <summary>Writes the changes as CSV: kind, key, field, old, new, reason.</summary>
    public void Write(Stream stream)
    {
        var met = new bool[_right.Count];
        var chunks = new Part[(_left.Count + Chunk - 1) / Chunk];
        Parallel.For(0, chunks.Length, c => chunks[c] = Compare(c * Chunk, Math.Min(_left.Count, (c + 1) * Chunk), met));
        using var text = new StreamWriter(stream, new UTF8Encoding(false), 1 << 16, leaveOpen: true);
        text.Write("kind,key,field,old,new,reason\n");
        foreach (var part in chunks)
        {
            text.Write(part.Lines);
            Compared += part.Compared;
            Changed += part.Changed;
            New += part.New;
            Failed += part.Failed;
            foreach (var change in part.Guarded)
                _watch.Look(change);
        }

        if (_map is not null)
        {
            for (var row = 0; row < met.Length; row++)
            {
                if (met[row])
                    continue;
                Gone++;
                var withdrawn = _map.Publish.WhenGone;
                if (withdrawn != Withdrawal.Leave)
                    _watch.Look(new GuardedChange(Key(_right, row), Removes: true));
                Line(
                    text,
                    "gone",
                    Key(_right, row),
                    "",
                    null,
                    null,
                    withdrawn switch
                    {
                        Withdrawal.Hide => "it is gone from the source, so it is hidden",
                        Withdrawal.End => "it is gone from the source, so it is ended",
                        _ => "it is on the right alone; the lane leaves it",
                    }
                );
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private Part Compare(int from, int to, bool[] met)
    {
        var part = new Part();
        var (leftCells, rightCells) = (new CsvBytes.Cell[_left.Columns.Count], new CsvBytes.Cell[_right.Columns.Count]);
        var (mine, theirs) = (new RowValues(_left, _sides.Source), new RowValues(_right, _sides.Target));
        for (var row = from; row < to; row++)
        {
            var there = _right.Find(_left.Key(row));
            if (there >= 0)
            {
                met[there] = true;
                if (_wholeRows && _left.Row(row).SequenceEqual(_right.Row(there)))
                {
                    part.Compared++;
                    continue;
                }

                _right.Split(there, rightCells);
            }
            else if (_map is null)
            {
                continue;
            }

            _left.Split(row, leftCells);
            if (there >= 0 && _allAsTheyAre && AreAlike(leftCells, rightCells))
            {
                part.Compared++;
                continue;
            }

            mine.Take(leftCells);
            theirs.Take(there < 0 ? [] : rightCells);
            if (Takes(mine))
                Compute(part, row, there, mine, theirs);
        }

        return part;
    }

    private bool AreAlike(CsvBytes.Cell[] leftCells, CsvBytes.Cell[] rightCells)
    {
        foreach (var (left, right) in _asTheyAre)
            if (!_left.Bytes(leftCells[left]).SequenceEqual(_right.Bytes(rightCells[right])))
                return false;
        return true;
    }

    private bool Takes(RowValues mine) =>
        _file.SkuStartsWith is not { Length: > 0 } start
        || _sides.Source.Text(mine, FieldRole.Sku)?.StartsWith(start, StringComparison.OrdinalIgnoreCase) == true;

    private void Compute(Part part, int row, int there, RowValues mine, RowValues theirs)
    {
        var key = Key(_left, row);
        var problem = mine.Problem(_looksHere) ?? (there < 0 ? null : theirs.Problem(_looksThere));
        var computed = problem is null ? _computation!.Compute(Pair(key, there, mine, theirs)) : Computed.Not("unreadable", problem);
        if (computed.IsOutOfScope)
            return;
        part.Compared++;
        if (computed.Why is { } why)
        {
            part.Failed++;
            Line(part.Lines, "failed", key, why["field"] ?? "", null, null, why.Words);
            return;
        }

        if (!computed.Changes)
            return;
        if (there < 0)
            part.New++;
        else
            part.Changed++;
        if (computed.Hold is null)
            part.Guarded.Add(computed.Guarded);
        Lines(part, key, computed);
    }

    // A row on the left alone is what somebody would choose to be created.
    private LanePair Pair(string key, int there, RowValues mine, RowValues theirs)
    {
        if (_map is null)
            return new ItemPair(new SideRecord(key, mine.Copy(), []), new SideRecord(Key(_right, there), theirs.Copy(), []), key, null)
            {
                Levels = [_sides.Source.StockLevel(mine)],
            };
        return new PlacedItem(
            new SideRecord(key, mine, []),
            there < 0 ? SideRecord.None : new SideRecord(Key(_right, there), theirs, []),
            key,
            null
        )
        {
            Levels = [_sides.Source.StockLevel(mine)],
            Place = new ItemPlace(new MapRecord(mine, There: there < 0 ? null : theirs), there < 0 ? Presence.Chosen : Presence.Paired),
        };
    }

    private static void Lines(Part part, string key, Computed computed)
    {
        foreach (var field in computed.Fields.Where(f => f.Changes))
        {
            var kind =
                computed.Act == WriteAct.Create ? "new"
                : field.Way == Way.Back ? "back"
                : computed.Hold is not null ? "held"
                : "change";
            var why =
                computed.Hold?.Words ?? field.Why ?? string.Join("; ", field.Trace.Where(t => t.Before != t.After).Select(t => t.Why));
            Line(part.Lines, kind, key, field.Field.Name, field.Old, field.New, why);
        }
    }

    private static bool AsItIs(ReadyField field) =>
        field.Mapping
            is {
                Steps.Count: 0,
                Owner: Owner.Source,
                Flow: Flow.ToTarget,
                Source: { Fields.Count: 1, Record: SourceRecord.Own, Constant: null }
            }
        && field.Target is { Required: false, MaxLength: null, Type: not (FieldType.Integer or FieldType.Image) };

    private static int IndexOf(CsvBytes table, string column) => table.Columns.Select((c, i) => (c, i)).First(x => x.c == column).i;

    private static string Key(CsvBytes table, int row)
    {
        var key = Encoding.UTF8.GetString(table.Key(row));
        return key.StartsWith('"') ? key.Trim('"').Replace("\"\"", "\"", StringComparison.Ordinal) : key;
    }

    private static FieldSet Fields(LaneFileSide side, CsvBytes table) =>
        side.Fields.Count > 0
            ? new FieldSet([.. side.Fields.Where(f => table.Columns.Contains(f.Name)).Select(f => f.Describe())])
            : new FieldSet([
                .. table.Columns.Where(c => c.Length > 0).Select(c => new FieldDescription(c, c, FieldType.Text, Writable: true)),
            ]);

    private static void Line(TextWriter text, string kind, string key, string field, string? old, string? next, string reason) =>
        text.Write(
            $"{kind},{TableOut.Cell(key)},{TableOut.Cell(field)},{TableOut.Cell(old)},{TableOut.Cell(next)},{TableOut.Cell(reason)}\n"
        );

    // What one thread found in its rows.
    private sealed class Part
    {
        public StringWriter Lines { get; } = new(CultureInfo.InvariantCulture);

        public List<GuardedChange> Guarded { get; } = [];

        public int Compared { get; set; }

        public int Changed { get; set; }

        public int New { get; set; }

        public int Failed { get; set; }
    }
}
