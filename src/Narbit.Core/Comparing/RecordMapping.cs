using Narbit.Core.Mapping;

namespace Narbit.Core.Comparing;

/// <summary>Applies a map to records. Pure: the same inputs give the same result.</summary>
public static class RecordMapping
{
    private static readonly IReadOnlyDictionary<string, string> Nothing = new Dictionary<string, string>();

    /// <summary>Maps a pair and compares it field by field.</summary>
    /// <param name="map">The map.</param>
    /// <param name="record">The source's record, with the paired record of the target in <see cref="MapRecord.There"/>.</param>
    /// <param name="agreed">What was last agreed on for a target field.</param>
    /// <param name="hereAt">When the source's record changed.</param>
    /// <param name="thereAt">When the target's record changed.</param>
    public static MappedRecord Compare(
        ReadyMap map,
        MapRecord record,
        Func<string, LastAgreed?> agreed,
        DateTimeOffset? hereAt = null,
        DateTimeOffset? thereAt = null
    )
    {
        var there = record.There ?? Nothing;
        var fields = new MappedField[map.Fields.Count];
        for (var i = 0; i < fields.Length; i++)
        {
            var field = map.Fields[i];
            var old = there.GetValueOrDefault(field.Target.Name);
            if (field.Mapping.Owner == Owner.FirstPublication)
            {
                fields[i] = new MappedField(
                    field,
                    old,
                    old,
                    new FieldVerdict(Movement.Leave, SeamSign.Same, "it belongs to the target since it was published"),
                    null
                );
                continue;
            }

            var mapped = field.Chain.Run(record);
            if (mapped.Failure is { } failure && ReadyMap.Sends(field.Mapping))
                return new MappedRecord([], Of(field, failure));
            var verdict = ThreeWay.Decide(field.Target.Type, field.Mapping, agreed(field.Target.Name), mapped.Value, old, hereAt, thereAt);
            string? back = null;
            if (verdict.Movement == Movement.TakeBack && field.Target.Shared && record.Parent is not null)
                verdict = verdict with
                {
                    Movement = Movement.Leave,
                    Why = "it was changed there, and the first of its group takes it back",
                };
            if (verdict.Movement == Movement.TakeBack)
            {
                back = old is null ? null : field.Back?.Run(old);
                if (old is not null && back is null)
                    return new MappedRecord([], Of(field, NoWayBack(old)));
            }

            fields[i] = new MappedField(field, mapped.Value, old, verdict, back);
        }

        return new MappedRecord(fields);
    }

    /// <summary>Maps a record that the target does not have: every field that is sent at first publication.</summary>
    /// <param name="map">The map.</param>
    /// <param name="record">The source's record.</param>
    public static MappedRecord Create(ReadyMap map, MapRecord record)
    {
        var fields = new List<MappedField>(map.Fields.Count);
        foreach (var field in map.Fields.Where(f => ReadyMap.Sends(f.Mapping)))
        {
            var mapped = field.Chain.Run(record);
            if (mapped.Failure is { } failure)
                return new MappedRecord([], Of(field, failure));
            if (mapped.Value is not null)
                fields.Add(
                    new MappedField(
                        field,
                        mapped.Value,
                        null,
                        new FieldVerdict(Movement.Send, SeamSign.MissingThere, "it is new there"),
                        null
                    )
                );
        }

        return new MappedRecord(fields);
    }

    private static Reason NoWayBack(string value) =>
        new(
            MapReasons.NoWayBack,
            $"“{value}” was changed there and cannot be turned back into a value of the source; "
                + "add it to the crosswalk, or let the source own the field"
        );

    private static Reason Of(ReadyField field, Reason failure) =>
        (failure with { Words = $"{field.Target.Label}: {failure.Words}" }).With("field", field.Target.Name);
}
