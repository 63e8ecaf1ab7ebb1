using System.Text.Json.Serialization;
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

    /// <summary>What stopped the run, in words.</summary>
    public string? Message { get; set; }

    /// <summary>The guards that were tripped, JSON; null: none was, or a person let the run go on.</summary>
    public string? Tripped { get; set; }

    /// <summary>The run that this one takes back; null: it is an ordinary one.</summary>
    public long? RollsBack { get; set; }

    /// <summary>For a run that takes another back: the writes of it that were chosen, JSON; null: all of them.</summary>
    public string? Chosen { get; set; }
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
    Gone,

    /// <summary>A change that goes back to the source.</summary>
    Back,
}

/// <summary>One record that a run would write, is writing or has written.</summary>
public sealed class PlannedWrite
{
    public long Id { get; set; }

    public long RunId { get; set; }

    public required string HubKey { get; set; }

    public required string TargetKey { get; set; }

    public string? Sku { get; set; }

    public string? Title { get; set; }

    public ChangeKind Kind { get; set; }

    public WriteState State { get; set; }

    /// <summary>Why it is held, or was before a person chose it.</summary>
    public string? HoldReason { get; set; }

    /// <summary>What is done to the record.</summary>
    public WriteAct Act { get; set; }

    /// <summary>Whether it goes back to the source instead of to the target.</summary>
    public bool ToSource { get; set; }

    /// <summary>The guards that concern it, words between spaces; or empty.</summary>
    public string Guards { get; set; } = "";

    /// <summary>For one that is created: the key of the parent it is put under, where that is known.</summary>
    public string? ParentKey { get; set; }

    /// <summary>For one that is created: what it shares with its sisters.</summary>
    public string? Group { get; set; }

    /// <summary>The run that took it back; null: none did.</summary>
    public long? TakenBackIn { get; set; }

    /// <summary>The change of the leading field in percent, where it has one.</summary>
    public double? Move { get; set; }

    /// <summary>The same for every attempt.</summary>
    public required string IdempotencyKey { get; set; }

    public int Attempts { get; set; }

    /// <summary>The target's words, or what went wrong.</summary>
    public string? Message { get; set; }

    public DateTimeOffset? SentAt { get; set; }

    public DateTimeOffset? ConfirmedAt { get; set; }

    /// <summary>For stock: the source's basis.</summary>
    public string? Source { get; set; }

    public List<PlannedField> Fields { get; set; } = [];
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
}

/// <summary>A record that a run could not compute, with the cause.</summary>
public sealed class RunRemark
{
    public long Id { get; set; }

    public long RunId { get; set; }

    public string? HubKey { get; set; }

    public string? TargetKey { get; set; }

    public string? Sku { get; set; }

    public string? Title { get; set; }

    /// <summary>A stable word: noPrice, unreadable, …</summary>
    public required string Cause { get; set; }

    public required string Message { get; set; }
}
