namespace Narbit.Data.Mismatches;

/// <summary>What becomes of mismatches by an act.</summary>
/// <param name="State">How they stand then; null: as before.</param>
/// <param name="Until">For those put off: until when.</param>
/// <param name="Gives">Whether somebody else has them then.</param>
/// <param name="Owner">Who has them then; null: nobody.</param>
public readonly record struct MismatchChange(MismatchState? State, DateTimeOffset? Until = null, bool Gives = false, string? Owner = null);
