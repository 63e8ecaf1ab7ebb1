using System.Runtime.CompilerServices;
using System.Text.Json.Serialization;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Maps;

namespace Narbit.Web.Tests.Toys;

/// <summary>A kind of lane that only this assembly knows, for a kind of record that only it knows: all that either needs is here.</summary>
internal sealed class ShelfWork : MapWork
{
    /// <summary>Shelves.</summary>
    public static readonly RecordKind Shelf = RecordKind.Add("Shelf", "shelf", "shelves", isPaired: true);

    [ModuleInitializer]
    internal static void Register() => LaneWorks.Add(new ShelfWork());

    /// <inheritdoc/>
    public override string Kind => "shelf";

    /// <inheritdoc/>
    public override string Label => "Shelves";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("shelf", "shelves");

    /// <inheritdoc/>
    public override RecordKind Record => Shelf;

    /// <inheritdoc/>
    public override string ReferenceLabel => "Code";

    /// <inheritdoc/>
    public override string CaptionLabel => "Shelf";

    /// <inheritdoc/>
    public override IReadOnlyList<WatchedLimit> Limits { get; } = [WatchedLimit.ChangedShare, WatchedLimit.FailingTimes];

    /// <inheritdoc/>
    public override LaneReading Reading => field ??= new Read(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new Computed(this);

    private sealed class Read(LaneWork work) : MapReading(work)
    {
        public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
            [new(lane.Source.System.Id, Shelf), new(lane.Target.System.Id, Shelf)];
    }

    private sealed class Computed(LaneWork work) : MapComputing<ShelfDocument>(work)
    {
        public override LaneDocument Blank(LaneSides sides) => new ShelfDocument(new FieldMap());
    }
}

/// <summary>A field map for shelves.</summary>
/// <param name="Map">The map.</param>
public sealed record ShelfDocument(FieldMap Map) : LaneDocument
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override FieldMap? Mapped => Map;

    /// <inheritdoc/>
    public override LaneDocument WithMap(FieldMap map) => new ShelfDocument(map);
}
