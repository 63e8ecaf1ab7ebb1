using Narbit.Core.Records;

namespace Narbit.Core.Stock;

/// <summary>What stock rules take from records.</summary>
public static class LevelRecord
{
    /// <summary>One stock level, taken from a record of this kind.</summary>
    public static StockLevel StockLevel(this FieldSet fields, IReadOnlyDictionary<string, string> values) =>
        new(
            fields.Text(values, FieldRole.Location) ?? "",
            fields.Number(values, FieldRole.OnHand) ?? 0,
            fields.Number(values, FieldRole.Allocated) ?? 0,
            fields.Number(values, FieldRole.Incoming) ?? 0
        );
}
