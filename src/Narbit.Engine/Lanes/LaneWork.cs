using Narbit.Core.Guarding;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>
/// A kind of work that a lane does, e.g. prices by a price rule: what it is called, its pages and its measure, with its three parts: what
/// it reads, how it computes, what it writes. A new kind is a file of its own and a line in <see cref="LaneWorks.All"/>.
/// </summary>
public abstract class LaneWork
{
    /// <summary>What it reads, and what concerns it.</summary>
    public abstract LaneReading Reading { get; }

    /// <summary>How its document is checked, and what it computes.</summary>
    public abstract LaneComputing Computing { get; }

    /// <summary>What it writes.</summary>
    public virtual LaneWriting Writing => field ??= new LaneWriting(this);

    /// <summary>A stable word for programs, kept with lanes and in their documents.</summary>
    public abstract string Kind { get; }

    /// <summary>What flows, as a person reads it, e.g. <c>Prices</c>.</summary>
    public abstract string Label { get; }

    /// <summary>What one value of it is called.</summary>
    public abstract Noun Noun { get; }

    /// <summary>The pages of such a lane, in the order of the work.</summary>
    public abstract IReadOnlyList<LaneStep> Steps { get; }

    /// <summary>The part of its document that findings and paths speak of.</summary>
    public virtual string Part => "rule";

    /// <summary>What the move of its leading field is counted in, e.g. <c>%</c>; null: nothing moves by a measure.</summary>
    public virtual string? MoveUnit => null;

    /// <summary>The limits that mean something to it, in the order in which a person sets them.</summary>
    public virtual IReadOnlyList<WatchedLimit> Limits => [];

    /// <summary>The limits that hold as long as nobody has set any.</summary>
    public virtual GuardLimits UsualGuards { get; } = new();

    /// <summary>What a record's reference is called, e.g. <c>SKU</c>.</summary>
    public virtual string ReferenceLabel => "SKU";

    /// <summary>What a record's caption is called, e.g. <c>Item</c>.</summary>
    public virtual string CaptionLabel => "Item";

    /// <summary>The kind of record that it writes.</summary>
    public virtual RecordKind Record => RecordKind.Item;

    /// <summary>The kind of record whose pairs it goes by.</summary>
    public virtual RecordKind PairedKind => Record;

    /// <summary>Whether it flows between the two records of a pair; otherwise within one system.</summary>
    public virtual bool Pairs => true;

    /// <summary>Limits as they are kept; the usual ones where none are.</summary>
    public GuardLimits GuardsOf(string? kept) => kept is null ? UsualGuards : GuardLimits.Read(kept).ValueOrDefault ?? UsualGuards;

    /// <summary>A lane's name as a person reads it.</summary>
    public virtual string NameOf(string source, string target) => $"{Label} to {target}";

    /// <summary>How far a computed record's leading field moves, in <see cref="MoveUnit"/>; null where that cannot be said.</summary>
    public decimal? MoveOf(Computed computed) => computed.Fields.Count == 0 ? null : MoveOf(computed.Fields[0].Old, computed.Fields[0].New);

    /// <summary>How far a value moves, in <see cref="MoveUnit"/>.</summary>
    public virtual decimal? MoveOf(string? before, string? after) => null;

    /// <summary>The page on which a finding about its document or its guards is put right.</summary>
    /// <param name="path">Where in the document, or the limit.</param>
    public virtual string StepOf(string path)
    {
        var first = path.Split('.', '[')[0];
        return first switch
        {
            "fields" => "map",
            "crosswalks" => "crosswalks",
            "filters" or "publish" => LaneStep.Scope.Key,
            _ when Limits.Any(l => l.Limit == first) => LaneStep.Guards.Key,
            _ => Part,
        };
    }

    /// <summary>What a change of its leading field costs while it waits.</summary>
    public virtual Stake Stake => Stake.Nothing;

    /// <summary>What it is to the stock of its systems.</summary>
    public virtual StockPart StockPart => StockPart.None;

    /// <summary>Where it goes in a job that somebody makes anew: what others depend on goes first.</summary>
    public virtual int PlaceInJob => 100;
}
