using Narbit.Adapters;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>The two systems that a lane joins, as far as computing goes: what their records have and what they let be done.</summary>
public sealed record LaneSides
{
    /// <summary>The source's name.</summary>
    public required string SourceName { get; init; }

    /// <summary>The target's name.</summary>
    public required string TargetName { get; init; }

    /// <summary>The source's fields of the kind that flows.</summary>
    public required FieldSet Source { get; init; }

    /// <summary>The target's fields of the kind that flows.</summary>
    public required FieldSet Target { get; init; }

    /// <summary>The source's stock level fields, or null where it has none.</summary>
    public FieldSet? Levels { get; init; }

    /// <summary>The target's fields of customers, or null where it has none that can be created.</summary>
    public FieldSet? Customers { get; init; }

    /// <summary>Whether addresses can be added to the target's customers.</summary>
    public bool AddsAddresses { get; init; }

    /// <summary>The target's fields of credit notes, or null where it has none that can be created.</summary>
    public FieldSet? CreditNotes { get; init; }

    /// <summary>The target's fields of payments, or null where none can be registered apart from its document.</summary>
    public FieldSet? Payments { get; init; }

    /// <summary>The target currency's digits after the point.</summary>
    public int Decimals { get; init; } = 2;

    /// <summary>The target's currency, ISO 4217.</summary>
    public string? Currency { get; init; }

    /// <summary>The source's currency, ISO 4217.</summary>
    public string? SourceCurrency { get; init; }

    /// <summary>Whether records can be created at the target.</summary>
    public bool Creates { get; init; }

    /// <summary>Whether records can be ended at the target.</summary>
    public bool Ends { get; init; }

    /// <summary>Whether records can be created at the source.</summary>
    public bool CreatesHere { get; init; }

    /// <summary>Computations of other lanes between the two that give a new record its first values.</summary>
    public IReadOnlyList<(LaneWork Work, LaneComputation Computation)> First { get; init; } = [];

    /// <summary>Both sides, as a field map needs them.</summary>
    public MapSides Map => new(Source, Target, Levels);

    /// <summary>The sides of two systems for a kind of record.</summary>
    public static LaneSides Of(RecordKind kind, Systems.Connection source, Systems.Connection target)
    {
        var (here, there) = (Offered(source, kind), Offered(target, kind));
        return new LaneSides
        {
            SourceName = source.System.Name,
            TargetName = target.System.Name,
            Source = here?.Fields ?? new FieldSet([]),
            Target = there?.Fields ?? new FieldSet([]),
            Levels = Offered(source, RecordKind.StockLevel)?.Fields,
            Customers = Created(target, RecordKind.Customer),
            AddsAddresses =
                Offered(target, RecordKind.Customer) is { Updates: true, BatchSize: > 0 } customers
                && customers.Fields.Children.Any(c => c is { Role: ListRole.Addresses, Writable: true, Adds: true }),
            CreditNotes = Created(target, RecordKind.CreditNote),
            Payments = Created(target, RecordKind.Payment),
            Decimals = target.System.Decimals,
            Currency = target.System.Currency,
            SourceCurrency = source.System.Currency,
            Creates = there?.Creates ?? false,
            Ends = there?.Ends ?? false,
            CreatesHere = here?.Creates ?? false,
        };
    }

    private static FieldSet? Created(Systems.Connection connection, RecordKind kind) =>
        Offered(connection, kind) is { Creates: true } offered ? offered.Fields : null;

    private static OfferedKind? Offered(Systems.Connection connection, RecordKind kind) =>
        connection.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind);
}
