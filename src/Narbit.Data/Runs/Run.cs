using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Data.Runs;

[JsonConverter(typeof(CamelCaseEnum<RunState>))]
public enum RunState
{
    /// <summary>Waiting for its turn or at work.</summary>
    Working,

    /// <summary>The change set is ready and waits for a person.</summary>
    Ready,

    /// <summary>Finished; single writes may have failed or been held.</summary>
    Done,

    /// <summary>Could not go on; nothing more will be sent until it is tried again.</summary>
    Failed,

    /// <summary>A preview that a later run made obsolete.</summary>
    Superseded,
}

[JsonConverter(typeof(CamelCaseEnum<RunPhase>))]
public enum RunPhase
{
    Read,
    Pair,
    Compute,
    Send,
    Confirm,
    Finished,
}

[JsonConverter(typeof(CamelCaseEnum<RunTrigger>))]
public enum RunTrigger
{
    Person,
    Timetable,
    Setup,
    Event,
}

/// <summary>One execution of a lane.</summary>
public sealed class Run
{
    public long Id { get; set; }

    public required string LaneId { get; set; }

    /// <summary>Whether the run stops once its change set is stored.</summary>
    public bool Preview { get; set; }

    public RunTrigger Trigger { get; set; }

    public required string StartedBy { get; set; }

    public RunState State { get; set; }

    public RunPhase Phase { get; set; }

    public int RuleNumber { get; set; }

    public DateTimeOffset StartedAt { get; set; }

    /// <summary>When the change set was stored.</summary>
    public DateTimeOffset? PlannedAt { get; set; }

    public DateTimeOffset? EndedAt { get; set; }

    public int Paired { get; set; }

    public int InStep { get; set; }

    /// <summary>Records that could not be computed; each has a <see cref="RunRemark"/>.</summary>
    public int Remarked { get; set; }

    /// <summary>What stopped the run, or who decided that nothing is sent.</summary>
    public KeptReason? Why { get; set; }

    /// <summary>The guards that were tripped, JSON; null: none was, or a person let the run go on.</summary>
    public string? Tripped { get; set; }

    /// <summary>
    /// What its change set was computed by, without the records: the version, the scope, the pairs; null: it is not known.
    /// </summary>
    public string? Basis { get; set; }

    /// <summary>How long it was at work, without the time in which it waited for a person; in milliseconds.</summary>
    public long WorkedMs { get; set; }

    /// <summary>Requests that were sent, each attempt counted.</summary>
    public int Requests { get; set; }

    /// <summary>Those of them that repeat an earlier one.</summary>
    public int Repeats { get; set; }

    /// <summary>Those of them that had no answer.</summary>
    public int Lost { get; set; }

    /// <summary>How long it waited for answers that never came; in milliseconds.</summary>
    public long LostWaitedMs { get; set; }

    /// <summary>How long it waited because a system takes only so many requests; in milliseconds.</summary>
    public long LimitWaitedMs { get; set; }

    /// <summary>How long it waited before repeating what had failed; in milliseconds.</summary>
    public long RepeatWaitedMs { get; set; }

    /// <summary>The run that this one takes back; null: it is an ordinary one.</summary>
    public long? RollsBack { get; set; }

    /// <summary>The turn of a job that it belongs to; null: none.</summary>
    public long? TurnId { get; set; }

    /// <summary>The only fields of the target that it writes, JSON; null: all that its lane writes.</summary>
    public string? Fields { get; set; }

    /// <summary>For a small run: the keys of the source's records that it looks at, JSON; null: all of them.</summary>
    public string? Only { get; set; }

    /// <summary>How many of its requests went to which system, by its mark, JSON; null: none did.</summary>
    public string? RequestsBySystem { get; set; }

    /// <summary>For a run that takes another back: the writes of it that were chosen, JSON; null: all of them.</summary>
    public string? Chosen { get; set; }
}

/// <summary>How <see cref="Run"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RunStored : IEntityTypeConfiguration<Run>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Run> e)
    {
        e.HasIndex(r => r.StartedAt);
        e.HasIndex(r => new { r.LaneId, r.StartedAt });
        // One lane never runs twice at once: the database says no, whoever asks.
        e.HasIndex(r => r.LaneId).HasFilter("\"State\" = 'Working'").IsUnique();
        e.OwnsOne(r => r.Why);
    }
}

[JsonConverter(typeof(CamelCaseEnum<WriteState>))]
public enum WriteState
{
    /// <summary>Will be sent.</summary>
    Planned,

    /// <summary>Looks wrong; is sent only when a person chooses it.</summary>
    Held,

    /// <summary>Was not chosen.</summary>
    Skipped,

    /// <summary>On its way, or cut off on its way: the target must be asked.</summary>
    Unknown,

    /// <summary>The target took it.</summary>
    Sent,

    /// <summary>The target was read again and holds it.</summary>
    Confirmed,

    /// <summary>The target changed since it was read, so the value was not sent; the next run computes it anew.</summary>
    Overtaken,

    /// <summary>The target refused it, lost it, or does not hold what it accepted.</summary>
    Failed,
}

[JsonConverter(typeof(CamelCaseEnum<ChangeKind>))]
public enum ChangeKind
{
    Up,
    Down,
    Other,

    /// <summary>A record that is new.</summary>
    New,

    /// <summary>A record that is hidden or ended.</summary>
    Withdrawn,

    /// <summary>A change that goes back to the source.</summary>
    Back,
}

/// <summary>One record that a run would write, is writing or has written.</summary>
public sealed class PlannedWrite
{
    public long Id { get; set; }

    public long RunId { get; set; }

    /// <summary>The source's record.</summary>
    public required string SourceKey { get; set; }

    /// <summary>The target's record.</summary>
    public required string TargetKey { get; set; }

    /// <summary>What a person knows the record by: an item's SKU, an order's number, a customer's account or mail address.</summary>
    public string? Reference { get; set; }

    /// <summary>What it is in words: an item's name, a buyer's.</summary>
    public string? Caption { get; set; }

    public ChangeKind Kind { get; set; }

    public WriteState State { get; set; }

    /// <summary>Why it is held, or was before a person chose it.</summary>
    public KeptReason? Hold { get; set; }

    /// <summary>What kind of record it writes; a run of orders writes customers and credit notes beside them.</summary>
    public RecordKind Record { get; set; }

    /// <summary>What is done to the record.</summary>
    public WriteAct Act { get; set; }

    /// <summary>Whether it goes to the target or back to the source.</summary>
    public Way Way { get; set; }

    /// <summary>The guards that concern it, words between spaces; or empty.</summary>
    public string Guards { get; set; } = "";

    /// <summary>For one that is created: the key of the parent it is put under, where that is known.</summary>
    public string? ParentKey { get; set; }

    /// <summary>For one that is created: what it shares with its sisters.</summary>
    public string? Group { get; set; }

    /// <summary>The run that took it back; null: none did.</summary>
    public long? TakenBackIn { get; set; }

    /// <summary>How far the leading field moves, where that can be measured.</summary>
    public double? Move { get; set; }

    /// <summary>What <see cref="Move"/> is counted in, e.g. <c>%</c> or <c>pcs</c>.</summary>
    public string? MoveUnit { get; set; }

    /// <summary>The same for every attempt.</summary>
    public required string IdempotencyKey { get; set; }

    public int Attempts { get; set; }

    /// <summary>What became of it, where that needs saying: the other side's refusal, or what was found there.</summary>
    public KeptReason? Fate { get; set; }

    public DateTimeOffset? SentAt { get; set; }

    public DateTimeOffset? ConfirmedAt { get; set; }

    /// <summary>What the value comes from, kept with what is agreed on; see <see cref="Lanes.Agreed.Source"/>.</summary>
    public string? Source { get; set; }

    public List<PlannedField> Fields { get; set; } = [];

    /// <summary>The fields that are really written.</summary>
    [System.ComponentModel.DataAnnotations.Schema.NotMapped]
    public IReadOnlyList<PlannedField> Written => Fields.TrueForAll(f => !f.Stays) ? Fields : [.. Fields.Where(f => !f.Stays)];

    /// <summary>The lists within the record that are written with it, JSON; null: none are.</summary>
    public string? Children { get; set; }

    /// <summary>What these lists were before, JSON; null: that is not known, or nothing is written over.</summary>
    public string? ChildrenBefore { get; set; }
}

/// <summary>How <see cref="PlannedWrite"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PlannedWriteStored : IEntityTypeConfiguration<PlannedWrite>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PlannedWrite> e)
    {
        // A page of a run is found, and all its counts are made, without its writes being read: there may be hundreds of thousands.
        e.HasIndex(w => w.RunId);
        e.HasIndex(w => new
        {
            w.RunId,
            w.State,
            w.Kind,
        });
        e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_Guarded").HasFilter("\"Guards\" <> ''");
        e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_Fated").HasFilter("\"Fate_Code\" IS NOT NULL");
        e.HasIndex(w => new { w.SentAt, w.State }).HasFilter("\"SentAt\" IS NOT NULL");
        e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_TakenBack").HasFilter("\"TakenBackIn\" IS NOT NULL");
        e.HasIndex(w => new { w.RunId, w.Reference });
        e.HasIndex(w => w.TargetKey);
        // A creation has the same key in every run of its lane until it is settled.
        e.HasIndex(w => w.IdempotencyKey);
        e.HasIndex(w => w.SourceKey).HasFilter("\"Act\" = 'Create'");
        // What nobody knows the fate of is found whatever else was ever written.
        e.HasIndex(w => w.RunId, "IX_Writes_Open").HasFilter("\"State\" IN ('Unknown', 'Sent')");
        e.HasMany(w => w.Fields).WithOne().HasForeignKey(f => f.WriteId);
        e.OwnsOne(w => w.Hold);
        e.OwnsOne(w => w.Fate);
    }
}

/// <summary>An attempt at a write that was not simply accepted, and what became of it.</summary>
public sealed class WriteTry
{
    public long Id { get; set; }

    public long WriteId { get; set; }

    /// <summary>Which attempt: 1 is the first.</summary>
    public int Number { get; set; }

    public DateTimeOffset At { get; set; }

    public required KeptReason Why { get; set; }
}

/// <summary>How <see cref="WriteTry"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class WriteTryStored : IEntityTypeConfiguration<WriteTry>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<WriteTry> e)
    {
        e.HasIndex(t => t.WriteId);
        e.OwnsOne(t => t.Why);
        e.Navigation(t => t.Why).IsRequired();
    }
}

/// <summary>A request of a run that was not answered at once, and what became of it.</summary>
public sealed class RunTrouble
{
    public long Id { get; set; }

    public long RunId { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>The system, by its name.</summary>
    public required string System { get; set; }

    /// <summary>The method and the path.</summary>
    public required string Request { get; set; }

    public int Attempts { get; set; }

    /// <summary>How many of the attempts had no answer.</summary>
    public int Lost { get; set; }

    public required KeptReason Why { get; set; }

    /// <summary>Whether the last attempt was answered.</summary>
    public bool Answered { get; set; }
}

/// <summary>How <see cref="RunTrouble"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RunTroubleStored : IEntityTypeConfiguration<RunTrouble>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<RunTrouble> e)
    {
        e.HasIndex(t => t.RunId);
        e.OwnsOne(t => t.Why);
        e.Navigation(t => t.Why).IsRequired();
    }
}

/// <summary>A <see cref="Reason"/> as it is kept: its code can be counted and filtered by, its words are shown.</summary>
public sealed class KeptReason
{
    public required string Code { get; init; }

    public required string Words { get; init; }

    /// <summary>What the words speak of, JSON; null: nothing in particular.</summary>
    public string? Values { get; init; }

    /// <summary>A reason to be kept.</summary>
    public static KeptReason? Of(Reason? reason) =>
        reason is null
            ? null
            : new KeptReason
            {
                Code = reason.Code,
                Words = reason.Words,
                Values = reason.Values is null ? null : RuleJson.Write(reason.Values),
            };

    /// <summary>The reason that was kept.</summary>
    public Reason Reason => new(Code, Words, Values is null ? null : RuleJson.ReadValues(Values));
}

/// <summary>One field of a planned write: old value beside new value, with the trace.</summary>
public sealed class PlannedField
{
    public long WriteId { get; set; }

    public required string Field { get; set; }

    /// <summary>0 for the leading field.</summary>
    public int Position { get; set; }

    public string? Old { get; set; }

    public string? New { get; set; }

    /// <summary>The steps, JSON.</summary>
    public string? Trace { get; set; }

    /// <summary>Whether it was changed on both sides, so that a person decides which value counts.</summary>
    public bool Asks { get; set; }

    /// <summary>Whether it is left as it is, because it would be emptied and its system does not let it be.</summary>
    public bool Stays { get; set; }

    /// <summary>Whether the new value is the key of the record that another of the run's is made from, until that one has its own.</summary>
    public bool ToCome { get; set; }

    /// <summary>For a value that goes back: the target's own value, which both sides agree on once it has arrived.</summary>
    public string? Agrees { get; set; }
}

/// <summary>How <see cref="PlannedField"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PlannedFieldStored : IEntityTypeConfiguration<PlannedField>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PlannedField> e)
    {
        e.HasKey(f => new { f.WriteId, f.Field });
    }
}

/// <summary>A record that a run could not compute, with the cause.</summary>
public sealed class RunRemark
{
    public long Id { get; set; }

    public long RunId { get; set; }

    public string? SourceKey { get; set; }

    public string? TargetKey { get; set; }

    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; set; }

    /// <summary>What it is in words.</summary>
    public string? Caption { get; set; }

    /// <summary>Why it could not be computed.</summary>
    public required KeptReason Why { get; set; }
}

/// <summary>How <see cref="RunRemark"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RunRemarkStored : IEntityTypeConfiguration<RunRemark>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<RunRemark> e)
    {
        e.HasIndex(r => r.RunId);
        e.OwnsOne(r => r.Why);
        e.Navigation(r => r.Why).IsRequired();
    }
}
