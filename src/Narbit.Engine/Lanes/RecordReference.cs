namespace Narbit.Engine.Lanes;

/// <summary>A record that another refers to.</summary>
/// <param name="Key">Its key.</param>
/// <param name="IsToCome">Whether the key is that of the record from which it is made in the same run.</param>
internal readonly record struct RecordReference(string Key, bool IsToCome = false)
{
    /// <summary>A field that refers to it.</summary>
    /// <param name="field">The field with the key.</param>
    internal ComputedField In(ComputedField field) => field with { ToCome = IsToCome };
}
