using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Lanes.Maps;

namespace Narbit.Engine.Lanes.Customers;

/// <summary>Customers with their names, addresses and groups, by a field map.</summary>
internal sealed class CustomerWork : MapWork
{
    /// <inheritdoc/>
    public override string Kind => "customer";

    /// <inheritdoc/>
    public override int PlaceInJob => 0;

    /// <inheritdoc/>
    public override string Label => "Customers";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("customer", "customers");

    /// <inheritdoc/>
    public override RecordKind Record => RecordKind.Customer;

    /// <inheritdoc/>
    public override string ReferenceLabel => "Customer";

    /// <inheritdoc/>
    public override string CaptionLabel => "Name";

    /// <inheritdoc/>
    public override IReadOnlyList<WatchedLimit> Limits { get; } =
    [WatchedLimit.ChangedShare, new("emptiedTexts", "More texts are emptied than", "records"), WatchedLimit.FailingTimes];

    /// <inheritdoc/>
    public override LaneReading Reading => field ??= new CustomerReading(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new CustomerComputing(this);
}

/// <summary>What such a lane reads, and what concerns it.</summary>
internal sealed class CustomerReading(LaneWork work) : MapReading(work)
{
    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
        [
            new(lane.Source.System.Id, RecordKind.Customer),
            new(lane.Target.System.Id, RecordKind.Customer),
            .. lane.Document is CustomerDocument { Taken: CustomersTaken.Buyers }
            && lane.Source.Adapter.Kinds.Any(k => k.Kind == RecordKind.Order)
                ? (LaneRead[])[new(lane.Source.System.Id, RecordKind.Order)]
                : [],
        ];

    /// <inheritdoc/>
    public override async IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel
    )
    {
        var buyers =
            documents.OfType<CustomerDocument>().All(d => d.Taken == CustomersTaken.Buyers) && documents.Count > 0
                ? await Buyers.OfAsync(lane.Source, database, cancel)
                : null;
        await foreach (var pair in base.PairsAsync(lane, database, documents, only, cancel))
            if (buyers is null || pair.Source.Key.Length == 0 || buyers.Has(pair.Source.Values))
                yield return pair;
    }
}

/// <summary>How such a lane computes.</summary>
internal sealed class CustomerComputing(LaneWork work) : MapComputing<CustomerDocument>(work)
{
    /// <inheritdoc/>
    public override LaneDocument Blank(LaneSides sides) => new CustomerDocument(new FieldMap());

    /// <inheritdoc/>
    public override Reason? Unfit(LaneSides sides) =>
        sides.Source.Fields.Count == 0 ? new Reason("lane.noKind", $"{sides.SourceName} describes no customers.")
        : sides.Target.Fields.Count == 0 ? new Reason("lane.noKind", $"{sides.TargetName} describes no customers.")
        : null;
}
