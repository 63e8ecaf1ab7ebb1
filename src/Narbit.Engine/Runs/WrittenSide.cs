using Narbit.Adapters;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>The system that some writes of a run go to: the target, or for what flows back, the source.</summary>
/// <param name="lane">The lane.</param>
/// <param name="way">Which of them.</param>
/// <param name="record">The kind of record that is written.</param>
internal sealed class WrittenSide(OpenLane lane, Way way, RecordKind record)
{
    public Connection Connection => way == Way.There ? lane.Target : lane.Source;

    public Way Way => way;

    public OpenLane Lane => lane;

    public ConnectedSystem System => Connection.System;

    public IAdapter Adapter => Connection.Adapter;

    public OfferedKind Kind { get; } =
        (way == Way.There ? lane.Target : lane.Source).Adapter.Kinds.FirstOrDefault(k => k.Kind == record)
        ?? new OfferedKind(record, record.ToString(), new FieldSet([]), 0);

    /// <summary>Whether it is what the lane is about; otherwise something that is written beside it.</summary>
    public bool IsLeading => record == lane.Work.Record;

    public string Gone => $"the record is no longer in {System.Name}; read it again, then look at its pair";

    /// <summary>The key of the record that a write goes to.</summary>
    public string Key(PlannedWrite write) => way == Way.There ? write.TargetKey : write.SourceKey;

    /// <summary>Where it is kept what became which record.</summary>
    public Task<ICreatedLinks> LinksAsync(NarbitContext db, CancellationToken cancel) =>
        lane.Work.Writing.LinksAsync(db, lane, record, cancel);

    /// <summary>What the lists mean that are written with a record.</summary>
    public IReadOnlyList<ListRole> ListsOf(PlannedWrite write) =>
        [.. RecordChildren.Read(write.Children).Lists.Select(name => Kind.Fields.Children.First(c => c.Name == name).Role)];

    /// <summary>Puts the key of a record that was created where it belongs.</summary>
    public void SetKey(PlannedWrite write, string key)
    {
        if (way == Way.There)
            write.TargetKey = key;
        else
            write.SourceKey = key;
    }

    /// <summary>The value by which the system is asked whether it has a record already; null: there is none.</summary>
    public string? FoundBy(PlannedWrite write) => Kind.FoundBy is { } field ? write.Fields.Find(f => f.Field == field)?.New : null;

    /// <summary>Whether a write has taken effect; a record that was to end is gone, or no longer shown.</summary>
    public bool Done(PlannedWrite write, ReadRecord? record)
    {
        if (write.Act == WriteAct.End)
            return record is null || Kind.Fields.Text(record.Values, FieldRole.Published) == "false";
        return record is not null
            && write.Written.All(f => Same(f, record, f.New))
            && RecordChildren.Read(write.Children).SameAs(record.Children, Kind.Fields.Children);
    }

    /// <summary>
    /// Whether a record still holds what it did when it was read; a field that has its new value already, as a sister's write may have
    /// given it, is none the worse.
    /// </summary>
    public bool IsAsRead(PlannedWrite write, ReadRecord record) => write.Written.All(f => Same(f, record, f.Old) || Same(f, record, f.New));

    /// <summary>What a record holds in the fields that a write wanted otherwise.</summary>
    public string Differing(PlannedWrite write, ReadRecord record)
    {
        var fields = write
            .Written.Where(f => !Same(f, record, f.New))
            .Select(f => write.Written.Count == 1 ? Shown(record, f) : $"{Label(f)}: {Shown(record, f)}");
        var lists = RecordChildren.Read(write.Children);
        var others = Kind
            .Fields.Children.Where(c => !lists.SameAs(record.Children, [c]))
            .Select(c => $"{record.Children[c.Name].Count} {c.Label} other than were written");
        return string.Join(", ", fields.Concat(others));
    }

    /// <summary>What a record holds in the fields that changed since it was read.</summary>
    public string Changed(PlannedWrite write, ReadRecord record) =>
        string.Join(
            ", ",
            write
                .Written.Where(f => !Same(f, record, f.Old) && !Same(f, record, f.New))
                .Select(f => $"{(write.Written.Count == 1 ? "" : $"{Label(f)} ")}{Shown(record, f)} instead of {f.Old ?? "nothing"}")
        );

    /// <summary>Whether a record holds what a field was to become.</summary>
    public bool Holds(PlannedField field, ReadRecord record) => Same(field, record, field.New);

    /// <summary>What both sides agree on once a field has arrived, in the target's terms.</summary>
    public IEnumerable<(string Field, string? Value)> Agrees(PlannedField field) =>
        way == Way.There
            ? [(field.Field, field.New)]
            // Back at the source, what was agreed on is the target's own value.
            : lane.Work.Computing.Returns(lane.Document, field.Field).Select(target => (target, field.Agrees));

    private bool Same(PlannedField field, ReadRecord record, string? value) =>
        FieldComparison.Same(Kind.Fields.Named(field.Field)?.Type ?? FieldType.Text, record.Values.GetValueOrDefault(field.Field), value);

    private string Label(PlannedField field) => Kind.Fields.Named(field.Field)?.Label ?? field.Field;

    private static string Shown(ReadRecord record, PlannedField field) => record.Values.GetValueOrDefault(field.Field) ?? "nothing";
}
