using System.Runtime.CompilerServices;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;

namespace Narbit.Engine.Lanes.Corrections;

/// <summary>Values that persons put right, newest for each field, as a lane's document.</summary>
/// <param name="Corrections">The corrections.</param>
public sealed record CorrectionDocument(IReadOnlyList<Correction> Corrections) : LaneDocument;

/// <summary>Values that persons put right within one system; source and target are the same.</summary>
internal sealed class CorrectionWork : LaneWork
{
    /// <inheritdoc/>
    public override string Kind => "correction";

    /// <inheritdoc/>
    public override string Label => "Corrections";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("value", "values");

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } = [LaneStep.Preview, LaneStep.Runs];

    /// <inheritdoc/>
    public override bool Pairs => false;

    /// <inheritdoc/>
    public override string NameOf(string source, string target) => $"{Label} in {target}";

    /// <inheritdoc/>
    public override LaneReading Reading => field ??= new CorrectionReading(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new CorrectionComputing(this);
}

/// <summary>What such a lane reads, and what concerns it.</summary>
internal sealed class CorrectionReading(LaneWork work) : LaneReading(work)
{
    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) => [new(lane.Target.System.Id, RecordKind.Item)];

    /// <inheritdoc/>
    public override async IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        var corrected = documents
            .OfType<CorrectionDocument>()
            .SelectMany(d => d.Corrections)
            .Select(c => c.Key)
            .ToHashSet(StringComparer.Ordinal);
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Target.System.Id, RecordKind.Item, cancel))
            if (corrected.Contains(row.Key) && SideRecord.Of(row) is var record)
                yield return new LanePair(record, record, row.Reference, row.Caption);
    }
}

/// <summary>How such a lane computes.</summary>
internal sealed class CorrectionComputing(LaneWork work) : LaneComputing<CorrectionDocument>(work)
{
    /// <inheritdoc/>
    protected override IReadOnlyList<RuleFault> Check(
        CorrectionDocument document,
        LaneSides sides,
        IReadOnlyCollection<string> locations
    ) => [];

    /// <inheritdoc/>
    protected override Outcome<LaneComputation> Computation(CorrectionDocument document, LaneSides sides, DateTimeOffset at) =>
        new CorrectionComputation(document.Corrections, sides.Target);

    /// <inheritdoc/>
    protected override TrialTally Tally(OpenLane lane, CorrectionDocument trial, GuardLimits guards, string? focus) =>
        new ValueTally(Work, guards);
}

/// <summary>Puts values right.</summary>
/// <param name="corrections">The corrections.</param>
/// <param name="target">The system's item fields.</param>
internal sealed class CorrectionComputation(IReadOnlyList<Correction> corrections, FieldSet target) : LaneComputation
{
    private readonly ILookup<string, Correction> _byKey = corrections.ToLookup(c => c.Key, StringComparer.Ordinal);

    /// <inheritdoc/>
    protected override Computed Of(LanePair pair)
    {
        var fields = new List<ComputedField>();
        foreach (var correction in _byKey[pair.Target.Key])
        {
            if (target.Named(correction.Field) is not { Writable: true } field)
                return Computed.Not("notWritable", $"the field “{correction.Field}” cannot be written there");
            var old = pair.Target.Values.GetValueOrDefault(field.Name);
            var trace = new TraceStep("correction", old, correction.Value, "put right by hand");
            fields.Add(new ComputedField(field, old, correction.Value, [trace]));
        }

        // The changed ones lead.
        return new Computed([.. fields.OrderByDescending(f => f.Changes)]) { Guarded = new GuardedChange(pair.Name) };
    }
}
