using System.Globalization;
using Narbit.Core.Mapping;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>The step of a map that makes a text short enough.</summary>
internal static class TextLimit
{
    /// <summary>The step's name.</summary>
    public const string Step = "limit";

    /// <summary>The name of the value that says how many characters are left.</summary>
    public const string Length = "length";

    /// <summary>To how many characters a mapping limits its text at last; null: to none.</summary>
    public static int? Of(FieldMapping mapping) =>
        mapping.Steps.LastOrDefault(s => s.Do == Step)?.With?.GetValueOrDefault(Length) is { } said
        && int.TryParse(said, NumberStyles.None, CultureInfo.InvariantCulture, out var length)
            ? length
            : null;
}
