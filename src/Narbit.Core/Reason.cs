namespace Narbit.Core;

/// <summary>
/// Why something is as it is: why it went wrong, is held, was refused or could not be computed. Programs go by the code and the values,
/// people read the words; nothing reads the words to decide.
/// </summary>
/// <param name="Code">A stable word for programs, e.g. <c>unreachable</c> or <c>price.rises</c>.</param>
/// <param name="Words">One or two plain sentences: what happened, to which record, and what to do.</param>
/// <param name="Values">What the words speak of, by name, e.g. the <c>table</c> and the <c>from</c> of a missing crosswalk entry.</param>
public sealed record Reason(string Code, string Words, IReadOnlyDictionary<string, string>? Values = null)
{
    /// <summary>A value that the words speak of, or null.</summary>
    public string? this[string name] => Values?.GetValueOrDefault(name);

    /// <summary>The same with a value more.</summary>
    public Reason With(string name, string? value) =>
        value is null
            ? this
            : this with
            {
                Values = new Dictionary<string, string>(Values ?? new Dictionary<string, string>(), StringComparer.Ordinal)
                {
                    [name] = value,
                },
            };
}
