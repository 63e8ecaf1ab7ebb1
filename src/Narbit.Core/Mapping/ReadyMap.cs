namespace Narbit.Core.Mapping;

/// <summary>A field map made ready: every chain checked and compiled. Safe to use from several threads.</summary>
public sealed class ReadyMap
{
    private ReadyMap(FieldMap map, IReadOnlyList<ReadyField> fields)
    {
        (Map, Fields) = (map, fields);
        Looks = fields.SelectMany(f => f.Chain.Looks).Concat(map.Filters.Select(f => f.Field)).ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>The document.</summary>
    public FieldMap Map { get; }

    /// <summary>The fields, in the document's order.</summary>
    public IReadOnlyList<ReadyField> Fields { get; }

    /// <summary>Checks a map and makes it ready.</summary>
    /// <param name="map">The map.</param>
    /// <param name="sides">Both systems.</param>
    /// <param name="faults">Every finding, by path.</param>
    /// <returns>The map, or null where a finding refuses it.</returns>
    public static ReadyMap? Make(FieldMap map, MapSides sides, out IReadOnlyList<RuleFault> faults)
    {
        var found = new List<RuleFault>();
        faults = found;
        foreach (var twice in map.Crosswalks.GroupBy(c => c.Name, StringComparer.Ordinal).Where(g => g.Count() > 1))
            found.Add(new RuleFault("crosswalks", Severity.Refuse, $"there are {twice.Count()} crosswalks named “{twice.Key}”"));
        var crosswalks = map
            .Crosswalks.GroupBy(c => c.Name, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        for (var i = 0; i < map.Crosswalks.Count; i++)
            found.AddRange(CrosswalkTable.Check(map.Crosswalks[i], $"crosswalks[{i}]", new HashSet<string>(), new HashSet<string>()));
        for (var i = 0; i < map.Filters.Count; i++)
            if (
                map.Filters[i].Field is not (MapFilter.Available or MapFilter.Changed)
                && sides.Source.Fields.All(f => f.Name != map.Filters[i].Field)
            )
                found.Add(
                    new RuleFault(
                        $"filters[{i}]",
                        Severity.Refuse,
                        $"the filter looks at “{map.Filters[i].Field}”, and the source has no such field"
                    )
                );
        if (map.Publish.Portion is < 1)
            found.Add(new RuleFault("publish.portion", Severity.Refuse, "a portion is at least 1 record"));

        var (fields, seen) = (new List<ReadyField>(map.Fields.Count), new HashSet<string>(StringComparer.Ordinal));
        for (var i = 0; i < map.Fields.Count; i++)
        {
            var (mapping, path) = (map.Fields[i], $"fields[{i}]");
            if (!seen.Add(mapping.Target))
                found.Add(new RuleFault($"{path}.target", Severity.Refuse, $"“{mapping.Target}” is mapped twice"));
            if (Chain.Make(mapping, path, sides, crosswalks, found) is not { } chain)
                continue;
            if (!chain.Target.Writable && Sends(mapping))
                found.Add(new RuleFault($"{path}.target", Severity.Refuse, $"{chain.Target.Label}: the target does not let it be written"));
            Reversal? back = null;
            if (mapping.Flow != Flow.ToTarget)
            {
                var turned = Reversal.Of(mapping, sides.Source, crosswalks);
                if (turned.Fault is { } fault)
                    found.Add(
                        new RuleFault(
                            $"{path}.flow",
                            Severity.Refuse,
                            $"{chain.Target.Label}: {fault.Words}; let it flow to the target only"
                        )
                    );
                else
                    back = turned.Value;
            }

            fields.Add(new ReadyField(chain, back));
        }

        return found.Exists(f => f.Severity == Severity.Refuse) ? null : new ReadyMap(map, fields);
    }

    /// <summary>Whether the lane takes a record of the source.</summary>
    /// <param name="own">Its values.</param>
    /// <param name="available">How many pieces of it are available; null: unknown.</param>
    /// <param name="changed">When it was first seen in its present form; null: unknown.</param>
    public bool Takes(IReadOnlyDictionary<string, string> own, decimal? available = null, DateTimeOffset? changed = null)
    {
        foreach (var filter in Map.Filters)
        {
            var value = filter.Field switch
            {
                MapFilter.Available => available?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                MapFilter.Changed => changed?.ToString("O", System.Globalization.CultureInfo.InvariantCulture),
                _ => own.GetValueOrDefault(filter.Field),
            };
            if (!Tested.Holds(filter, value))
                return false;
        }

        return true;
    }

    /// <summary>Whether a mapping ever sends anything to the target.</summary>
    public static bool Sends(FieldMapping mapping) => mapping.Owner != Owner.Target && mapping.Flow != Flow.ToSource;

    /// <summary>The source's fields that any mapping or filter looks at.</summary>
    public IReadOnlySet<string> Looks { get; }
}
