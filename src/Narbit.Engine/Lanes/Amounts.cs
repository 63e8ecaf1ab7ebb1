using System.Globalization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>Canonical texts as numbers.</summary>
internal static class Amounts
{
    /// <summary>The number, or null where there is none.</summary>
    public static decimal? Of(string? text) =>
        decimal.TryParse(text, NumberStyles.Number, CultureInfo.InvariantCulture, out var number) ? number : null;
}

/// <summary>A system has no field with a role that a lane writes.</summary>
internal static class NoField
{
    /// <summary>The reason that the lane cannot be used.</summary>
    public static Reason With(string system, FieldRole role) =>
        new(
            "lane.noField",
            $"{system} describes no field with the role {role}; the lane has nowhere to write. Amend its description under Systems."
        );
}
