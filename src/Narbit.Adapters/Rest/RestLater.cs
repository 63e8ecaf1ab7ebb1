namespace Narbit.Adapters.Rest;

/// <summary>
/// A change that the system only begins: it answers with what names the operation (RFC 9110, section 15.3.3: 202), and is asked for it
/// until it is done. An answer that names none counts at once.
/// </summary>
public sealed record RestLater
{
    /// <summary>Where the reply keeps what names the operation; null: its Location header does.</summary>
    public string? At { get; init; }

    /// <summary>
    /// The path that asks for it, where <c>{key}</c> stands for what names it; null: what names it is an address below the system's.
    /// </summary>
    public string? Path { get; init; }

    /// <summary>Where the answer says how far it is; null: it is done when the status is no longer 202.</summary>
    public string? State { get; init; }

    /// <summary>The words for done.</summary>
    public IReadOnlyList<string> Done { get; init; } = [];

    /// <summary>The words for failed.</summary>
    public IReadOnlyList<string> Failed { get; init; } = [];

    /// <summary>How long it is asked for, in seconds, above 0 and at most 3,600; what is open then is read back.</summary>
    public double WithinSeconds { get; init; } = 120;

    internal string? FirstFault(string at)
    {
        if (Path is { } path && !path.Contains("{key}", StringComparison.Ordinal))
            return $"{at}.path: say with {{key}} where what names the operation stands.";
        if (Path is not null && RestDocument.LeadsElsewhere(Path))
            return RestDocument.Elsewhere($"{at}.path");
        if (State is null != (Done.Count == 0))
            return $"{at}.done: give the words for done together with where they stand (state).";
        return WithinSeconds is <= 0 or > 3600 ? $"{at}.withinSeconds: must be above 0 and at most 3,600." : null;
    }
}
