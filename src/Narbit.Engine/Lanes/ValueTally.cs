using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>Counts what a rule would do to the leading value of each record.</summary>
/// <param name="work">The kind of work.</param>
/// <param name="guards">The guards' limits.</param>
internal sealed class ValueTally(LaneWork work, GuardLimits guards) : TrialTally
{
    private const int SampleCount = 6;
    private const int LargestCount = 5;

    private readonly GuardWatch _watch = new(guards);
    private readonly List<(decimal Amount, Tried Record)> _computed = [];
    private readonly PriorityQueue<Tried, decimal> _largest = new();
    private FieldDescription? _leading;
    private int _records;
    private int _changes;
    private int _before;
    private int _up;
    private int _down;
    private int _held;
    private int _failing;

    /// <inheritdoc/>
    public override void Add(LanePair pair, Computed? saved, Computed tried)
    {
        _records++;
        if (saved?.Changes == true)
            _before++;
        if (tried.Why is not null)
        {
            _failing++;
            return;
        }

        if (tried.Fields.Count == 0)
            return;
        _leading ??= tried.Fields[0].Field;
        var record = new Tried(pair, saved, tried);
        if (tried.Hold is null)
            _computed.Add((Amounts.Of(tried.Fields[0].New) ?? 0, record));
        if (tried.Changes)
            Changed(record);
    }

    /// <inheritdoc/>
    public override TrialResult Result(IReadOnlyList<RuleFault> faults) =>
        new ValueTrial
        {
            Faults = faults,
            Records = _records,
            Changes = _changes,
            ChangesInForce = _before,
            Held = _held,
            Failing = _failing,
            Tripped = _watch.Tripped(_records, _failing, null),
            Up = _up,
            Down = _down,
            Field = _leading is null ? null : ShownField.Of(_leading),
            Samples = [.. Spread().Select(Show)],
            Largest = Largest(),
        };

    private void Changed(Tried record)
    {
        _changes++;
        var move = work.MoveOf(record.Trial);
        if (move > 0)
            _up++;
        if (move < 0)
            _down++;
        if (record.Trial.Hold is not null)
            _held++;
        else
            _watch.Look(record.Trial.Guarded);
        _largest.Enqueue(record, Math.Abs(move ?? 0));
        if (_largest.Count > LargestCount)
            _largest.Dequeue();
    }

    private List<TrialRecord> Largest()
    {
        var largest = new List<TrialRecord>();
        while (_largest.TryDequeue(out var record, out _))
            largest.Insert(0, Show(record));
        return largest;
    }

    // A few records evenly from the smallest result to the largest.
    private IEnumerable<Tried> Spread()
    {
        _computed.Sort((a, b) => a.Amount.CompareTo(b.Amount));
        var count = Math.Min(SampleCount, _computed.Count);
        for (var i = 0; i < count; i++)
            yield return _computed[count == 1 ? 0 : i * (_computed.Count - 1) / (count - 1)].Record;
    }

    private TrialRecord Show(Tried tried)
    {
        var field = tried.Trial.Fields[0];
        return new TrialRecord
        {
            SourceKey = tried.Pair.Source.Key,
            TargetKey = tried.Pair.Target.Key,
            Reference = tried.Pair.Reference,
            Caption = tried.Pair.Caption,
            Now = field.Old,
            InForce = tried.InForce?.Fields is [var saved, ..] ? saved.New : null,
            Trial = field.New,
            Move = work.MoveOf(tried.Trial),
            Hold = tried.Trial.Hold,
            Trace = field.Trace,
        };
    }

    private sealed record Tried(LanePair Pair, Computed? InForce, Computed Trial);
}
