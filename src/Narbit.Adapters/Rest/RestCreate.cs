namespace Narbit.Adapters.Rest;

/// <summary>
/// How records are created. The system knows idempotency keys, so that a creation without an answer can be sent again; or records can be
/// found by what stands in a field, so that Narbit can ask whether it arrived.
/// </summary>
public sealed record RestCreate : RestChange
{
    /// <summary>A creation, by POST where nothing else is said.</summary>
    public RestCreate() => Method = "POST";

    /// <summary>The name of the parent's key in the body; null: records have no parents.</summary>
    public string? Parent { get; init; }

    /// <summary>Whether parents' keys are numbers in the body.</summary>
    public bool NumericParent { get; init; }

    /// <summary>The name of what sisters share in the body; null: they are told by nothing.</summary>
    public string? Group { get; init; }

    /// <summary>Where a result repeats the idempotency key, for calls that take several records.</summary>
    public string? ResultRequest { get; init; }

    /// <summary>Where a result (of a call that takes one record, the reply) keeps the new record's key.</summary>
    public string? ResultKey { get; init; }

    /// <summary>Whether the new record's key is the last part of the address in the reply's Location header.</summary>
    public bool KeyInLocation { get; init; }

    internal string? FirstFault(RestFind? find, string at)
    {
        if (FirstFault(at) is { } fault)
            return fault;
        if (!Single && (IdempotencyKey is null || ResultRequest is null || ResultKey is null))
            return $"{at}: a call that creates several records needs idempotencyKey, resultRequest and resultKey.";
        if (!MakesOnce && find is null)
            return $"{at}: needs an idempotency key that the system honours (idempotencyKey or idempotencyHeader), or a way to find out "
                + "whether a creation arrived (find); otherwise one without an answer might be made twice.";
        if (!Single)
            return null;
        return ResultKey is null && !KeyInLocation && find is null
            ? $"{at}.resultKey: say where the reply keeps the new record's key, or how the record is found (find)."
            : null;
    }
}
