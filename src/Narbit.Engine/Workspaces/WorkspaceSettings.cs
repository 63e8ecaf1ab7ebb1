using Narbit.Data.Systems;

namespace Narbit.Engine.Workspaces;

/// <summary>What holds for the whole workspace.</summary>
public sealed record WorkspaceSettings
{
    /// <summary>What it is called, at most 80 characters.</summary>
    public required string Name { get; init; }

    /// <summary>The IANA name of its time zone.</summary>
    public required string TimeZone { get; init; }

    /// <summary>ISO 4217; null: none.</summary>
    public string? Currency { get; init; }

    /// <summary>ISO 3166-1 alpha-2, for telephone numbers without a country code; null: none.</summary>
    public string? Country { get; init; }

    /// <summary>The system that the others are kept in step with; null: none is chosen yet.</summary>
    public string? HubId { get; init; }

    /// <summary>How numbers are written on screen.</summary>
    public NumberForm Numbers { get; init; }

    /// <summary>How dates are written on screen.</summary>
    public DateForm Dates { get; init; }

    /// <summary>The day on which weeks begin.</summary>
    public FirstDay FirstDay { get; init; }

    /// <summary>Who is at the screen; one of <see cref="People"/>.</summary>
    public required string Person { get; init; }

    /// <summary>The people who work here; at least one.</summary>
    public required IReadOnlyList<Person> People { get; init; }
}
