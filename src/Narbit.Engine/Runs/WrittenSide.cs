using Narbit.Adapters;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>The system that some writes of a run go to: the target, or for what flows back, the source.</summary>
/// <param name="lane">The lane.</param>
/// <param name="toSource">Whether it is the source.</param>
internal sealed class WrittenSide(OpenLane lane, bool toSource)
{
    private Connection Connection => toSource ? lane.Source : lane.Target;

    public OpenLane Lane => lane;

    public ConnectedSystem System => Connection.System;

    public IAdapter Adapter => Connection.Adapter;

    public OfferedKind Kind { get; } = (toSource ? lane.Source : lane.Target).Adapter.Kinds.First(k => k.Kind == RecordKind.Item);

    public string Gone => $"the record is no longer in {System.Name}; read it again, then look at its pair";

    /// <summary>The key of the record that a write goes to.</summary>
    public string Key(PlannedWrite write) => toSource ? write.HubKey : write.TargetKey;

    /// <summary>Whether a write has taken effect; a record that was to end is gone, or no longer shown.</summary>
    public bool Done(PlannedWrite write, ReadRecord? record) =>
        write.Act == WriteAct.End
            ? record is null || Kind.Fields.Text(record.Values, FieldRole.Published) == "false"
            : record is not null && write.Fields.TrueForAll(f => Same(f, record, f.New));

    /// <summary>
    /// Whether a record still holds what it did when it was read; a field that has its new value already, as a sister's write may have
    /// given it, is none the worse.
    /// </summary>
    public bool IsAsRead(PlannedWrite write, ReadRecord record) =>
        write.Fields.TrueForAll(f => Same(f, record, f.Old) || Same(f, record, f.New));

    /// <summary>What a record holds in the fields that a write wanted otherwise.</summary>
    public string Differing(PlannedWrite write, ReadRecord record) =>
        string.Join(
            ", ",
            write
                .Fields.Where(f => !Same(f, record, f.New))
                .Select(f => write.Fields.Count == 1 ? Shown(record, f) : $"{Label(f)}: {Shown(record, f)}")
        );

    /// <summary>What a record holds in the fields that changed since it was read.</summary>
    public string Changed(PlannedWrite write, ReadRecord record) =>
        string.Join(
            ", ",
            write
                .Fields.Where(f => !Same(f, record, f.Old) && !Same(f, record, f.New))
                .Select(f => $"{(write.Fields.Count == 1 ? "" : $"{Label(f)} ")}{Shown(record, f)} instead of {f.Old ?? "nothing"}")
        );

    /// <summary>What both sides agree on once a write is confirmed, in the target's terms.</summary>
    public IEnumerable<(string Field, string? Value)> Agrees(PlannedWrite write)
    {
        if (!toSource)
            return write.Fields.Select(f => (f.Field, f.New));
        // Back at the source, the value is the target's own; the trace begins with it.
        return write.Fields.SelectMany(f =>
            lane.Returns(f.Field)
                .Select(target => (target, (string?)Narbit.Core.RuleJson.ReadTrace(f.Trace ?? "[]").Select(t => t.After).FirstOrDefault()))
        );
    }

    private bool Same(PlannedField field, ReadRecord record, string? value) =>
        FieldComparison.Same(
            Kind.Fields.Fields.First(d => d.Name == field.Field).Type,
            record.Values.GetValueOrDefault(field.Field),
            value
        );

    private string Label(PlannedField field) => Kind.Fields.Fields.First(d => d.Name == field.Field).Label;

    private static string Shown(ReadRecord record, PlannedField field) => record.Values.GetValueOrDefault(field.Field) ?? "nothing";
}
