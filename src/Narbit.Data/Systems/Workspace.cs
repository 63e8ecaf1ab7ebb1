namespace Narbit.Data.Systems;

/// <summary>The business whose systems are kept in step. There is one row.</summary>
public sealed class Workspace
{
    public int Id { get; set; } = 1;

    public required string Name { get; set; }

    public required string TimeZone { get; set; }

    /// <summary>The system that the others are kept in step with; null: none is chosen yet.</summary>
    public string? HubId { get; set; }

    /// <summary>ISO 4217 code of what amounts are told in where no system says otherwise; null: none.</summary>
    public string? Currency { get; set; }

    /// <summary>ISO 3166-1 code of the country whose phone numbers are written without a country code; null: none.</summary>
    public string? Country { get; set; }

    /// <summary>Who is at the screen; written into versions and runs.</summary>
    public required string Person { get; set; }

    public NumberForm Numbers { get; set; }

    public DateForm Dates { get; set; }

    public FirstDay FirstDay { get; set; }

    /// <summary>So many days after they were placed orders are anonymised; null: never by themselves.</summary>
    public int? AnonymiseAfterDays { get; set; }

    /// <summary>The time of day at which all lanes are compared afresh, <c>HH:mm</c> in the zone; null: only when somebody asks.</summary>
    public string? ProvedAt { get; set; }
}
