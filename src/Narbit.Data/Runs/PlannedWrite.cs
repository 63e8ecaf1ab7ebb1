using Narbit.Core.Records;

namespace Narbit.Data.Runs;

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
