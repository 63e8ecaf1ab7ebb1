using System.Text.Json.Serialization.Metadata;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;

namespace Narbit.Engine.Lanes;

/// <summary>How a kind of lane computes: its document, how that is checked, and what it makes of a pair.</summary>
/// <param name="work">The kind.</param>
public abstract class LaneComputing(LaneWork work)
{
    /// <summary>The kind.</summary>
    protected LaneWork Work => work;

    /// <summary>The type of its document.</summary>
    public abstract Type DocumentType { get; }

    /// <summary>The document that a new lane begins with; null: such lanes are made by what a person does elsewhere.</summary>
    public virtual LaneDocument? Blank(LaneSides sides) => null;

    /// <summary>The document that a new lane begins with at an instant.</summary>
    public virtual LaneDocument Begin(LaneDocument blank, DateTimeOffset now) => blank;

    /// <summary>Why two systems cannot be joined by such a lane; null: they can.</summary>
    public virtual Reason? Unfit(LaneSides sides) => null;

    /// <summary>Every finding about a document.</summary>
    /// <param name="document">The document.</param>
    /// <param name="sides">Both systems.</param>
    /// <param name="locations">The source's locations.</param>
    public abstract IReadOnlyList<RuleFault> Check(LaneDocument document, LaneSides sides, IReadOnlyCollection<string> locations);

    /// <summary>Findings about a document beside those of other lanes.</summary>
    /// <param name="db">Where the others are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="document">The document.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual Task<IReadOnlyList<RuleFault>> CheckAmongAsync(
        NarbitContext db,
        OpenLane lane,
        LaneDocument document,
        CancellationToken cancel
    ) => Task.FromResult<IReadOnlyList<RuleFault>>([]);

    /// <summary>A document made ready to compute by; or why it cannot be.</summary>
    /// <param name="document">The document.</param>
    /// <param name="sides">Both systems.</param>
    /// <param name="at">The instant to compute for.</param>
    public abstract Outcome<LaneComputation> Computation(LaneDocument document, LaneSides sides, DateTimeOffset at);

    /// <summary>Counts what a document on trial would do.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="trial">The document on trial.</param>
    /// <param name="guards">The guards' limits on trial.</param>
    /// <param name="focus">The target field that is being edited, or null.</param>
    public abstract TrialTally Tally(OpenLane lane, LaneDocument trial, GuardLimits guards, string? focus);

    /// <summary>What its tallies come to, and the word for that in JSON.</summary>
    public virtual JsonDerivedType Trial => new(typeof(ValueTrial), "values");

    /// <summary>The fields of both sides that a document reads or writes.</summary>
    public virtual IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides) => [];

    /// <summary>Whether its field map may write a field of the target's.</summary>
    public virtual bool IsMapped(FieldDescription field) => MapSuggestions.IsMappable(field);

    /// <summary>The target's fields that flow back into a field of the source.</summary>
    public virtual IEnumerable<string> Returns(LaneDocument document, string sourceField) => [];
}

/// <summary>The computing of a kind of lane with its document's type.</summary>
/// <typeparam name="T">The document.</typeparam>
/// <param name="work">The kind.</param>
public abstract class LaneComputing<T>(LaneWork work) : LaneComputing(work)
    where T : LaneDocument
{
    /// <inheritdoc/>
    public sealed override Type DocumentType => typeof(T);

    /// <inheritdoc/>
    public sealed override IReadOnlyList<RuleFault> Check(LaneDocument document, LaneSides sides, IReadOnlyCollection<string> locations) =>
        document is T own ? Check(own, sides, locations) : [new RuleFault(LaneJson.Discriminator, Severity.Refuse, Foreign(document))];

    /// <inheritdoc/>
    public sealed override Outcome<LaneComputation> Computation(LaneDocument document, LaneSides sides, DateTimeOffset at) =>
        document is T own ? Computation(own, sides, at) : new Reason("rule.foreign", Foreign(document));

    /// <inheritdoc/>
    public sealed override TrialTally Tally(OpenLane lane, LaneDocument trial, GuardLimits guards, string? focus) =>
        Tally(lane, (T)trial, guards, focus);

    /// <inheritdoc cref="LaneComputing.Check"/>
    protected abstract IReadOnlyList<RuleFault> Check(T document, LaneSides sides, IReadOnlyCollection<string> locations);

    /// <inheritdoc cref="LaneComputing.Computation"/>
    protected abstract Outcome<LaneComputation> Computation(T document, LaneSides sides, DateTimeOffset at);

    /// <inheritdoc cref="LaneComputing.Tally"/>
    protected abstract TrialTally Tally(OpenLane lane, T trial, GuardLimits guards, string? focus);

    private string Foreign(LaneDocument document) =>
        $"this lane is about {Work.Label.ToLowerInvariant()}, and the document about {LaneWorks.Of(document).Label.ToLowerInvariant()}";
}
