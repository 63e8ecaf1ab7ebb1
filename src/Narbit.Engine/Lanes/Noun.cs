namespace Narbit.Engine.Lanes;

/// <summary>A word for one and for several, as a person reads it.</summary>
/// <param name="One">For one, e.g. <c>price</c>.</param>
/// <param name="Many">For several or none, e.g. <c>prices</c>.</param>
public sealed record Noun(string One, string Many)
{
    /// <summary>A number with its noun.</summary>
    public string Counted(int count) => count == 1 ? $"1 {One}" : $"{count:N0} {Many}";
}
