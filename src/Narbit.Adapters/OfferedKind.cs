using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>A record kind as a system offers it.</summary>
/// <param name="Kind">The kind.</param>
/// <param name="Label">What the system calls these records.</param>
/// <param name="Fields">The fields, and the lists within each record.</param>
/// <param name="BatchSize">The most records in one write; 0: it cannot be written.</param>
public sealed record OfferedKind(RecordKind Kind, string Label, FieldSet Fields, int BatchSize)
{
    /// <summary>Whether records can be changed; otherwise they can be created at most.</summary>
    public bool Updates { get; init; } = true;

    /// <summary>Whether records can be looked up by their keys, see <see cref="IAdapter.LookUpAsync"/>.</summary>
    public bool LooksUp { get; init; } = true;

    /// <summary>The most records that are looked up by one request.</summary>
    public int LookedUpAtOnce { get; init; } = 1;

    /// <summary>
    /// Whether what is added or deleted while the list is read moves other entries to another page, so that they may be passed over or
    /// met twice.
    /// </summary>
    public bool Shifts { get; init; }

    /// <summary>The field by whose value records can be found, see <see cref="IAdapter.FindAsync"/>; null: by none.</summary>
    public string? FoundBy { get; init; }

    /// <summary>Whether records can be created.</summary>
    public bool Creates { get; init; }

    /// <summary>
    /// Whether the system makes nothing twice of one idempotency key, so that a creation may be sent again with the one it had.
    /// </summary>
    public bool HonoursKeys { get; init; }

    /// <summary>How long a request may take to be answered. What was not answered by then may be under way for as long again.</summary>
    public TimeSpan AnswersWithin { get; init; }

    /// <summary>Whether records can be ended.</summary>
    public bool Ends { get; init; }

    /// <summary>Whether a reading of everything meets all there is, so that what it did not meet is gone.</summary>
    public bool Whole { get; init; } = true;

    /// <summary>Where new records are given their keys by Narbit: the lowest number; null: the system gives them itself.</summary>
    public long? NewKeysFrom { get; init; }

    /// <summary>
    /// The kind whose list holds these records too, so that reading that one reads both; null: they have a list of their own.
    /// </summary>
    public RecordKind? ReadWith { get; init; }
}
