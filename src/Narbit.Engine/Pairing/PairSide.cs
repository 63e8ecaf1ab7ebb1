using System.Globalization;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>One system's mirrored records of a kind, ready to be paired, checked and looked up.</summary>
public sealed class PairSide
{
    private readonly Dictionary<string, List<string>> _bySku = new(StringComparer.Ordinal);

    private PairSide(Connection connection, FieldSet fields, Dictionary<string, MirrorRow> rows)
    {
        Connection = connection;
        Fields = fields;
        Rows = rows;
        foreach (var row in rows.Values)
        {
            if (string.IsNullOrWhiteSpace(row.Reference))
                continue;
            if (_bySku.TryGetValue(row.Reference.Trim(), out var keys))
                keys.Add(row.Key);
            else
                _bySku[row.Reference.Trim()] = [row.Key];
        }
    }

    /// <summary>The system.</summary>
    public Connection Connection { get; }

    /// <summary>Its fields of this kind.</summary>
    public FieldSet Fields { get; }

    /// <summary>The field that stands for a role; of prices, the one that everybody pays.</summary>
    public FieldDescription? FieldOf(FieldRole role) => role == FieldRole.Price ? Fields.RegularPrice : Fields.Find(role);

    /// <summary>Its records by key, in the order in which they were first read; none of them gone.</summary>
    public IReadOnlyDictionary<string, MirrorRow> Rows { get; }

    /// <summary>Loads a side.</summary>
    public static async Task<PairSide> LoadAsync(Database database, Connection connection, RecordKind kind, CancellationToken cancel)
    {
        var rows = new Dictionary<string, MirrorRow>(StringComparer.Ordinal);
        await foreach (var row in new MirrorStore(database).RowsAsync(connection.System.Id, kind, cancel))
            rows[row.Key] = row;
        return new PairSide(connection, connection.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind)?.Fields ?? new FieldSet([]), rows);
    }

    /// <summary>The keys of the records with a SKU, or with this key where no record has the SKU.</summary>
    public IReadOnlyList<string> Named(string skuOrKey) =>
        _bySku.TryGetValue(skuOrKey, out var keys) ? keys
        : Rows.ContainsKey(skuOrKey) ? [skuOrKey]
        : [];

    /// <summary>The keys of the records with this key, or with this SKU where no record has the key.</summary>
    public IReadOnlyList<string> Keyed(string keyOrSku) =>
        Rows.ContainsKey(keyOrSku) ? [keyOrSku] : _bySku.GetValueOrDefault(keyOrSku) ?? [];

    /// <summary>A record's values.</summary>
    public IReadOnlyDictionary<string, string> Values(string key) => StoredRecord.Values(Rows[key].Values);

    /// <summary>A record as item pairing takes it.</summary>
    public ItemToPair Item(MirrorRow row, IReadOnlyList<KnownAs> known)
    {
        var values = StoredRecord.Values(row.Values);
        string? Text(FieldRole role) => Fields.Text(values, role);
        var price = Fields.Number(values, FieldRole.Price, Fields.RegularPrice?.List);
        return new ItemToPair
        {
            Key = row.Key,
            Sku = row.Reference,
            Barcode = Text(FieldRole.Barcode),
            PartNumber = Text(FieldRole.PartNumber),
            Title = row.Caption,
            Option = Text(FieldRole.Option),
            Brand = Text(FieldRole.Brand),
            Price = price,
            PriceUnit = Fields.RegularPrice?.Unit,
            Group = row.Family,
            TitleCut = Fields.Find(FieldRole.Title)?.MaxLength is { } most && row.Caption?.Length >= most,
            KnownAs = known,
        };
    }

    /// <summary>A record as customer pairing takes it.</summary>
    public CustomerToPair Customer(MirrorRow row)
    {
        var values = StoredRecord.Values(row.Values);
        string? Text(FieldRole role) => Fields.Text(values, role);
        return new CustomerToPair
        {
            Key = row.Key,
            Email = Text(FieldRole.Email),
            Phone = Text(FieldRole.Phone),
            Account = Text(FieldRole.Account),
            Name = Text(FieldRole.Title),
            Company = Text(FieldRole.Company),
            Postcode = Text(FieldRole.Postcode),
        };
    }

    /// <summary>What a record has in some roles; the price of the first list.</summary>
    public IReadOnlyDictionary<FieldRole, string> Texts(string key, IReadOnlyCollection<FieldRole> roles)
    {
        var values = Values(key);
        var texts = new Dictionary<FieldRole, string>(roles.Count);
        foreach (var field in Fields.Fields)
            if (roles.Contains(field.Role) && values.TryGetValue(field.Name, out var text))
                texts.TryAdd(field.Role, text);
        return texts;
    }

    /// <summary>The quantity or amount in a role, for people.</summary>
    public decimal? Number(string key, FieldRole role, string? list = null) => Fields.Number(Values(key), role, list);

    /// <summary>An amount as text.</summary>
    public static string? Plain(decimal? number) => number?.ToString("0.##", CultureInfo.InvariantCulture);
}
