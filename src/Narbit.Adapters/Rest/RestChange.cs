namespace Narbit.Adapters.Rest;

/// <summary>A call that changes something.</summary>
public abstract record RestChange : RestCall
{
    /// <summary>The name of the list in the body; null: a call takes one record, and its path may have <c>{key}</c>.</summary>
    public string? Records { get; init; }

    /// <summary>Where the body has the record, for calls that take one; null: the body is the record.</summary>
    public string? Record { get; init; }

    /// <summary>The name of the idempotency key in the record; null: it is not there.</summary>
    public string? IdempotencyKey { get; init; }

    /// <summary>The header with the idempotency key, for calls that take one record; null: there is none.</summary>
    public string? IdempotencyHeader { get; init; }

    /// <summary>
    /// Whether the system makes nothing twice of a key that it has seen. Otherwise the key only tells results apart, and nothing that
    /// may have been done is sent again.
    /// </summary>
    public bool HonoursKeys { get; init; } = true;

    /// <summary>The most records in a call.</summary>
    public int BatchSize { get; init; } = 1;

    /// <summary>Where the reply keeps the list of results; needed for calls that take several records.</summary>
    public string? Results { get; init; }

    /// <summary>Where a result says how it went.</summary>
    public string? ResultState { get; init; }

    /// <summary>The word for went well.</summary>
    public string? ResultOk { get; init; }

    /// <summary>Where a result keeps its words.</summary>
    public string? ResultMessage { get; init; }

    /// <summary>How it is asked whether what was begun is done; null: an answer counts at once.</summary>
    public RestLater? Later { get; init; }

    /// <summary>Whether a call takes one record.</summary>
    internal bool Single => Records is null;

    /// <summary>Whether the system makes nothing twice of what is sent twice.</summary>
    internal bool MakesOnce => HonoursKeys && (IdempotencyKey is not null || IdempotencyHeader is not null);

    internal string? FirstFault(string at) => ShapeFault(at) ?? Later?.FirstFault($"{at}.later");

    private string? ShapeFault(string at) =>
        Single
            ? BatchSize > 1
                ? $"{at}.batchSize: without “records” a call takes one record."
                : null
            : Results is null || ResultState is null || ResultOk is null
                ? $"{at}: a call that takes several records needs results, resultState and resultOk."
                : IdempotencyHeader is not null
                    ? $"{at}.idempotencyHeader: a call that takes several records has their keys in its body."
                    : null;
}
