namespace Narbit.Data.Runs;

/// <summary>
/// The key of a record that a run creates, until its system has given it one: it is known by the record that it is made from. A field
/// that refers to such a record says so, see <see cref="PlannedField.ToCome"/>, since any text may be a key.
/// </summary>
/// <param name="From">The key of the record that it is made from.</param>
public readonly record struct KeyToCome(string From)
{
    /// <summary>What stands for it where a key is kept.</summary>
    public string Placeholder => $"+{From}";
}
