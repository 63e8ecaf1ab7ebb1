using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Lanes;
using Narbit.Engine.Lanes;

namespace Narbit.Cli;

/// <summary>Compares two tables by a lane, row by row, on all cores, and writes what would change.</summary>
internal sealed class Preview
{
    private const int Chunk = 4096;
    private readonly LaneFile _file;
    private readonly CsvBytes _left;
    private readonly CsvBytes _right;
    private readonly FieldSet _source;
    private readonly FieldSet _target;
    private readonly ReadyMap? _map;
    private readonly LaneComputation? _computation;
    private readonly (int Left, int Right, ReadyField Field)[] _asTheyAre = [];
    private readonly bool _wholeRows;
    private readonly GuardWatch _watch;

    public Preview(LaneFile file, CsvBytes left, CsvBytes right, DateTimeOffset at)
    {
        (_file, _left, _right, _watch) = (file, left, right, new GuardWatch(file.Guards ?? new GuardLimits()));
        (_source, _target) = (Fields(file.Source, left), Fields(file.Target, right));
        switch (file.Kind)
        {
            case LaneFileKind.Price:
                Fault = _target.Find(FieldRole.Price) is null
                    ?
                    [
                        new RuleFault(
                            "target.fields",
                            Severity.Refuse,
                            "none of them has the role price, so that the lane has nowhere to write"
                        ),
                    ]
                    : null;
                if (Fault is null)
                    _computation = new PriceComputation(file.Price!, _source, _target, 2, at);
                break;
            case LaneFileKind.Stock:
                Fault = _target.Find(FieldRole.OnHand) is null
                    ?
                    [
                        new RuleFault(
                            "target.fields",
                            Severity.Refuse,
                            "none of them has the role onHand, so that the lane has nowhere to write"
                        ),
                    ]
                    : null;
                if (Fault is null)
                    _computation = new StockComputation(file.Stock!, _source, _target);
                break;
            default:
                _map = ReadyMap.Make(file.Map!, new MapSides(_source, _target), out var faults);
                Fault = _map is null ? [.. faults.Select(f => f with { Path = $"map.{f.Path}" })] : null;
                if (_map is null)
                    break;
                _asTheyAre =
                [
                    .. _map
                        .Fields.Where(AsItIs)
                        .Select(f => (IndexOf(left, f.Mapping.Source.Fields![0]), IndexOf(right, f.Target.Name), f)),
                ];
                _wholeRows =
                    _asTheyAre.Length == _map.Fields.Count
                    && _map.Map.Filters.Count == 0
                    && left.Columns.SequenceEqual(right.Columns)
                    && file.Source.Key == file.Target.Key
                    && _asTheyAre.All(f => f.Left == f.Right);
                break;
        }
    }

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
                var withdrawn = _map!.Map.Publish.WhenGone;
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
        var (mine, theirs) = (new RowValues(_left, _source), new RowValues(_right, _target));
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

            _left.Split(row, leftCells);
            mine.Take(leftCells);
            theirs.Take(there < 0 ? [] : rightCells);
            if (
                _file.SkuStartsWith is { Length: > 0 } start
                && _source.Text(mine, FieldRole.Sku)?.StartsWith(start, StringComparison.OrdinalIgnoreCase) != true
            )
                continue;
            if (_map is not null)
                Items(part, row, there, leftCells, rightCells, mine, theirs);
            else if (there >= 0)
                Values(part, row, there, mine, theirs);
        }

        return part;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Items(
        Part part,
        int row,
        int there,
        CsvBytes.Cell[] leftCells,
        CsvBytes.Cell[] rightCells,
        RowValues mine,
        RowValues theirs
    )
    {
        if (there >= 0 && _asTheyAre.Length == _map!.Fields.Count && _map.Map.Filters.Count == 0)
        {
            var same = true;
            foreach (var (left, right, _) in _asTheyAre)
                same = same && _left.Bytes(leftCells[left]).SequenceEqual(_right.Bytes(rightCells[right]));
            if (same)
            {
                part.Compared++;
                return;
            }
        }

        if (!_map!.Takes(mine))
            return;
        part.Compared++;
        var key = Key(_left, row);
        var problem = mine.Problem(_map.Looks) ?? (there < 0 ? null : theirs.Problem(_map.Fields.Select(f => f.Target.Name)));
        var mapped =
            problem is not null ? new MappedRecord([], problem)
            : there < 0 ? RecordMapping.Create(_map, new MapRecord(mine))
            : RecordMapping.Compare(_map, new MapRecord(mine, There: theirs), _ => null);
        if (mapped.Failure is { } failure)
        {
            part.Failed++;
            Line(part.Lines, "failed", key, mapped.FailedField ?? "", null, null, failure);
            return;
        }

        var changed = false;
        string? emptied = null;
        foreach (var field in mapped.Fields)
        {
            if (field.Verdict.Movement is Movement.None or Movement.Leave)
                continue;
            changed = true;
            if (field.Here is null && field.There is not null && Shapes.Of(field.Field.Target.Type) is Shape.Text or Shape.Html)
                emptied ??= field.Field.Target.Label;
            Line(
                part.Lines,
                there < 0 ? "new"
                    : field.Verdict.Movement == Movement.TakeBack ? "back"
                    : "change",
                key,
                field.Field.Target.Name,
                field.There,
                field.Verdict.Movement == Movement.TakeBack ? field.Back : field.Here,
                field.Verdict.Why
            );
        }

        if (there < 0)
            part.New++;
        else if (changed)
            part.Changed++;
        if (changed)
            part.Guarded.Add(new GuardedChange(key, Emptied: emptied));
    }

    private void Values(Part part, int row, int there, RowValues mine, RowValues theirs)
    {
        part.Compared++;
        var key = Key(_left, row);
        if (mine.Problem(_source.Fields.Select(f => f.Name)) is { } problem)
        {
            part.Failed++;
            Line(part.Lines, "failed", key, "", null, null, problem);
            return;
        }

        var levels = _file.Kind == LaneFileKind.Stock ? [_source.StockLevel(mine)] : (IReadOnlyList<StockLevel>)[];
        var computed = _computation!.Compute(
            new LanePair(
                new SideRecord(key, mine.Copy(), []),
                new SideRecord(Key(_right, there), theirs.Copy(), []),
                key,
                null,
                levels,
                null,
                []
            )
        );
        if (computed.Cause is not null)
        {
            part.Failed++;
            Line(part.Lines, "failed", key, "", null, null, computed.Message!);
            return;
        }

        if (!computed.Changes)
            return;
        part.Changed++;
        if (computed.Hold is null)
            part.Guarded.Add(computed.Guarded);
        foreach (var field in computed.Fields.Where(f => f.Changes))
            Line(
                part.Lines,
                computed.Hold is null ? "change" : "held",
                key,
                field.Field.Name,
                field.Old,
                field.New,
                computed.Hold ?? string.Join("; ", field.Trace.Where(t => t.Before != t.After).Select(t => t.Why))
            );
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
