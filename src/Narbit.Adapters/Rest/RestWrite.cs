namespace Narbit.Adapters.Rest;

/// <summary>How records are written.</summary>
public sealed record RestWrite : RestChange
{
    /// <summary>A write, by POST where nothing else is said.</summary>
    public RestWrite() => Method = "POST";

    /// <summary>The name of a record's key in its body; null: it stands in the path alone.</summary>
    public string? Key { get; init; }

    /// <summary>Whether keys are numbers in the body.</summary>
    public bool NumericKey { get; init; }

    /// <summary>The name of the flag in the body that ends a record; null: records are not ended that way.</summary>
    public string? End { get; init; }

    /// <summary>A call that ends one record, e.g. DELETE; null: records are not ended that way.</summary>
    public RestEnding? Ending { get; init; }

    /// <summary>Where a result keeps the record's key.</summary>
    public string? ResultKey { get; init; }

    /// <summary>
    /// Whether the system takes a change only of the record as it was read, told by its entity tag (RFC 9110, section 13.1.1: If-Match).
    /// Its lookup is then a path with <c>{key}</c>.
    /// </summary>
    public bool IfMatch { get; init; }

    internal new string? FirstFault(string at) =>
        base.FirstFault(at)
        ?? (
            Single
                ? Key is null && Path?.Contains("{key}", StringComparison.Ordinal) != true
                    ? $"{at}.path: say with {{key}} where the record's key stands, or name it in the body (key)."
                    : null
                : Key is null || ResultKey is null
                    ? $"{at}: a call that takes several records needs key and resultKey."
                    : null
        );
}
