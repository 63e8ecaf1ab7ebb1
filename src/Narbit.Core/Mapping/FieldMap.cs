using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>Whose value a field holds.</summary>
[JsonConverter(typeof(CamelCaseEnum<Owner>))]
public enum Owner
{
    /// <summary>The source: what is changed at the target is written over.</summary>
    Source,

    /// <summary>The target: the field is never sent, and flows back where it may.</summary>
    Target,

    /// <summary>The source until the record is published; the target from then on.</summary>
    FirstPublication,

    /// <summary>
    /// Nobody: a change moves from where it was made to the other side, and <see cref="FieldMapping.Conflict"/> says what becomes of two.
    /// </summary>
    Nobody,
}

/// <summary>Which way a field's value may flow.</summary>
[JsonConverter(typeof(CamelCaseEnum<Flow>))]
public enum Flow
{
    /// <summary>To the target only.</summary>
    ToTarget,

    /// <summary>To the source only.</summary>
    ToSource,

    /// <summary>Either way.</summary>
    Both,
}

/// <summary>What becomes of a field that was changed on both sides since they last agreed.</summary>
[JsonConverter(typeof(CamelCaseEnum<ConflictPolicy>))]
public enum ConflictPolicy
{
    /// <summary>The record waits for a person.</summary>
    Ask,

    /// <summary>The source's value is taken.</summary>
    HereWins,

    /// <summary>The target's value is taken.</summary>
    ThereWins,

    /// <summary>The value of the record that was changed last is taken.</summary>
    NewestWins,
}

/// <summary>Where a mapping takes its value from.</summary>
[JsonConverter(typeof(CamelCaseEnum<SourceRecord>))]
public enum SourceRecord
{
    /// <summary>The source's own record.</summary>
    Own,

    /// <summary>The record around it: the first of its group.</summary>
    Parent,

    /// <summary>The stock levels that belong to it, one value each.</summary>
    StockLevels,

    /// <summary>The paired record at the target, as it is now.</summary>
    There,
}

/// <summary>The source of a target field: fields of a record, or a constant.</summary>
/// <param name="Fields">Names of fields; several give a list, in this order, without the missing ones.</param>
/// <param name="Constant">A constant instead of fields.</param>
/// <param name="Record">The record that has the fields.</param>
public sealed record MapSource(IReadOnlyList<string>? Fields = null, string? Constant = null, SourceRecord Record = SourceRecord.Own);

/// <summary>One step of a chain: what it does, and with what. See <see cref="StepCatalogue"/>.</summary>
/// <param name="Do">The step's name.</param>
/// <param name="With">Its parameters by name, as text; null: none.</param>
public sealed record MapStep(string Do, IReadOnlyDictionary<string, string>? With = null);

/// <summary>How one field of the target comes about.</summary>
public sealed record FieldMapping
{
    /// <summary>The target's field.</summary>
    public required string Target { get; init; }

    /// <summary>Where the value is taken from.</summary>
    public MapSource Source { get; init; } = new();

    /// <summary>What is done to it, in order.</summary>
    public IReadOnlyList<MapStep> Steps { get; init; } = [];

    /// <summary>Whose value it is.</summary>
    public Owner Owner { get; init; }

    /// <summary>Which way it may flow.</summary>
    public Flow Flow { get; init; }

    /// <summary>For a field that nobody owns: what becomes of two changes.</summary>
    public ConflictPolicy Conflict { get; init; }
}

/// <summary>What becomes of a code that a crosswalk has no entry for.</summary>
[JsonConverter(typeof(CamelCaseEnum<Unlisted>))]
public enum Unlisted
{
    /// <summary>The record waits until there is an entry.</summary>
    Hold,

    /// <summary>The code is passed on as it is.</summary>
    Keep,

    /// <summary>The crosswalk's default is used.</summary>
    Default,
}

/// <summary>An entry of a crosswalk.</summary>
/// <param name="From">The source's code.</param>
/// <param name="To">The target's code.</param>
public sealed record CrosswalkEntry(string From, string To);

/// <summary>A table that translates one system's codes to another's. Several codes may become one; one never becomes several.</summary>
public sealed record Crosswalk
{
    /// <summary>Its name within the lane.</summary>
    public required string Name { get; init; }

    /// <summary>The entries.</summary>
    public IReadOnlyList<CrosswalkEntry> Entries { get; init; } = [];

    /// <summary>What becomes of a code without an entry.</summary>
    public Unlisted Unlisted { get; init; }

    /// <summary>The code for those, where <see cref="Unlisted"/> says so.</summary>
    public string? Default { get; init; }

    /// <summary>
    /// For categories: what stands between two levels, so that a code without an entry finds its nearest branch's; null: the codes are
    /// flat.
    /// </summary>
    public string? Separator { get; init; }
}

/// <summary>What becomes of new records.</summary>
[JsonConverter(typeof(CamelCaseEnum<NewRecords>))]
public enum NewRecords
{
    /// <summary>Only those that somebody chose at the pair desk are created.</summary>
    Chosen,

    /// <summary>Those, and further variants of items that the target has.</summary>
    Variants,

    /// <summary>Everything in scope is created.</summary>
    All,
}

/// <summary>What becomes of a new variant that the target has of an item that both sides know.</summary>
[JsonConverter(typeof(CamelCaseEnum<NewThere>))]
public enum NewThere
{
    /// <summary>It waits at the pair desk.</summary>
    Wait,

    /// <summary>It is created at the source, beside its sisters.</summary>
    Follow,
}

/// <summary>What becomes of a listing whose item is no longer sold.</summary>
[JsonConverter(typeof(CamelCaseEnum<Withdrawal>))]
public enum Withdrawal
{
    /// <summary>Nothing.</summary>
    Leave,

    /// <summary>It is hidden.</summary>
    Hide,

    /// <summary>It is ended.</summary>
    End,
}

/// <summary>How a lane publishes.</summary>
public sealed record PublishRule
{
    /// <summary>Which new records are created.</summary>
    public NewRecords New { get; init; }

    /// <summary>What becomes of new variants that appear at the target.</summary>
    public NewThere NewThere { get; init; }

    /// <summary>Whether they are created live; otherwise as drafts.</summary>
    public bool Live { get; init; }

    /// <summary>The most records that one run creates; the next run goes on. Null: no limit.</summary>
    public int? Portion { get; init; }

    /// <summary>When the item is gone from the source.</summary>
    public Withdrawal WhenGone { get; init; }

    /// <summary>When the item is hidden at the source.</summary>
    public Withdrawal WhenHidden { get; init; }

    /// <summary>When nothing of it is available.</summary>
    public Withdrawal WhenOutOfStock { get; init; }
}

/// <summary>Which of the source's records a lane takes.</summary>
/// <param name="Field">The field that is looked at, or <see cref="Available"/> or <see cref="Changed"/>.</param>
/// <param name="Is">How.</param>
/// <param name="Value">Against what; for <see cref="Test.OneOf"/> separated by semicolons, for <see cref="Test.Under"/> a branch of a
/// tree.</param>
public sealed record MapFilter(string Field, Test Is, string? Value = null)
{
    /// <summary>On hand less allocated over all locations, in pieces.</summary>
    public const string Available = "@available";

    /// <summary>When the record was first seen in its present form, UTC.</summary>
    public const string Changed = "@changed";
}

/// <summary>How a value is looked at.</summary>
[JsonConverter(typeof(CamelCaseEnum<Test>))]
public enum Test
{
    /// <summary>The same, without regard to case; numbers by value.</summary>
    Equals,

    /// <summary>Not the same.</summary>
    NotEquals,

    /// <summary>Missing or empty.</summary>
    Empty,

    /// <summary>There.</summary>
    NotEmpty,

    /// <summary>A greater number, or a later instant.</summary>
    Greater,

    /// <summary>A smaller number, or an earlier instant.</summary>
    Less,

    /// <summary>Contains the text, without regard to case.</summary>
    Contains,

    /// <summary>One of several.</summary>
    OneOf,

    /// <summary>The branch itself or anything under it.</summary>
    Under,
}

/// <summary>
/// Everything that an item lane does, as one document: its field map, its crosswalks, what it takes and how it publishes.
/// </summary>
public sealed record FieldMap
{
    /// <summary>The target's fields, each once.</summary>
    public IReadOnlyList<FieldMapping> Fields { get; init; } = [];

    /// <summary>The crosswalks that its steps name.</summary>
    public IReadOnlyList<Crosswalk> Crosswalks { get; init; } = [];

    /// <summary>All of these must hold for a record to be taken.</summary>
    public IReadOnlyList<MapFilter> Filters { get; init; } = [];

    /// <summary>How it publishes.</summary>
    public PublishRule Publish { get; init; } = new();
}
