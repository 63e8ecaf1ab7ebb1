using Narbit.Core.Mapping;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>A field of a map whose chain limits the length of a text: tells whether it cuts one.</summary>
/// <param name="before">The chain up to the limit.</param>
/// <param name="with">The chain with it.</param>
internal sealed class CutField(Chain before, Chain with)
{
    private const string Limit = "limit";

    /// <summary>The target's field.</summary>
    public string Target => with.Target.Name;

    /// <summary>The fields of a map that may cut.</summary>
    public static IReadOnlyList<CutField> Of(FieldMap map, MapSides sides)
    {
        var crosswalks = MapLook.Crosswalks(map);
        var cutting = new List<CutField>();
        foreach (var mapping in map.Fields)
        {
            var at = mapping.Steps.ToList().FindIndex(s => s.Do == Limit);
            if (at < 0)
                continue;
            Chain? UpTo(int steps) => Chain.Make(mapping with { Steps = [.. mapping.Steps.Take(steps)] }, "", sides, crosswalks, []);
            if (UpTo(at) is { } before && UpTo(at + 1) is { } with)
                cutting.Add(new CutField(before, with));
        }

        return cutting;
    }

    /// <summary>Whether a record's text is longer than what is kept of it.</summary>
    public bool Cuts(MapRecord record) => before.Run(record).Value is { } whole && with.Run(record).Value?.Length < whole.Length;
}
