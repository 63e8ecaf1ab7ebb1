namespace Narbit.Core.Mapping;

/// <summary>The codes of what keeps a record from being mapped.</summary>
public static class MapReasons
{
    /// <summary>A crosswalk has no entry for a code; the values name the <c>table</c> and the code, <c>from</c>.</summary>
    public const string NoEntry = "crosswalk";

    /// <summary>A step cannot be done with the value; the values name the step, <c>do</c>.</summary>
    public const string Step = "map.step";

    /// <summary>The target requires a value, and there would be none.</summary>
    public const string Required = "map.required";

    /// <summary>The value is longer than the target takes.</summary>
    public const string TooLong = "map.tooLong";

    /// <summary>The value is no whole number, and the target takes no other.</summary>
    public const string NotWhole = "map.notWhole";

    /// <summary>The value is no address of an image.</summary>
    public const string NoImage = "map.noImage";

    /// <summary>A value that was changed at the target cannot be turned back into one of the source.</summary>
    public const string NoWayBack = "map.noWayBack";
}
