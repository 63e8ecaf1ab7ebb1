namespace Narbit.Adapters.Files;

/// <summary>A field in a column.</summary>
public sealed record FileField : DocumentField
{
    /// <summary>The column; needed unless it is always the same.</summary>
    public string? Column { get; init; }
}
