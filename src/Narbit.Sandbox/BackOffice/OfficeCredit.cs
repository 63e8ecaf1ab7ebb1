namespace Narbit.Sandbox.BackOffice;

/// <summary>A credit note for a document.</summary>
public sealed record OfficeCredit
{
    public required string Number { get; init; }

    public required string ExternalNumber { get; init; }

    public required string Document { get; init; }

    public bool Restock { get; init; }

    public IReadOnlyList<OfficeLine> Lines { get; init; } = [];

    public DateTimeOffset ChangedAt { get; init; }
}
