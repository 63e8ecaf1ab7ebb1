using System.Collections.Concurrent;
using System.Diagnostics.CodeAnalysis;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>
/// A kind of record that a system may offer. The ones that Narbit has stand here; another is added by <see cref="Add"/>, before the first
/// description is read. Written as a camelCase word; a word that is none of them is refused.
/// </summary>
[JsonConverter(typeof(Json))]
public readonly record struct RecordKind : IParsable<RecordKind>, IComparable<RecordKind>
{
    private sealed record Known(int Place, string Code, string One, string Many, bool IsPaired);

    private static readonly Known Items = new(0, "Item", "item", "items", true);
    private static readonly ConcurrentDictionary<string, RecordKind> ByCode = new(StringComparer.OrdinalIgnoreCase)
    {
        [Items.Code] = default,
    };

    private readonly Known? _known;

    private RecordKind(Known known) => _known = known;

    /// <summary>An item, or one variant of it; in a store, a listing.</summary>
    public static readonly RecordKind Item;

    /// <summary>The stock of an item at one location.</summary>
    public static readonly RecordKind StockLevel = Add("StockLevel", "stock level", "stock levels");

    /// <summary>A customer.</summary>
    public static readonly RecordKind Customer = Add("Customer", "customer", "customers", isPaired: true);

    /// <summary>An order; at the hub, the document that an order became.</summary>
    public static readonly RecordKind Order = Add("Order", "order", "orders");

    /// <summary>A credit note of the hub.</summary>
    public static readonly RecordKind CreditNote = Add("CreditNote", "credit note", "credit notes");

    /// <summary>A payment that the hub registers apart from the document that it belongs to.</summary>
    public static readonly RecordKind Payment = Add("Payment", "payment", "payments");

    /// <summary>All that there are.</summary>
    public static IEnumerable<RecordKind> All => ByCode.Values.OrderBy(k => (k._known ?? Items).Place);

    /// <summary>A stable word for programs, kept with records, e.g. <c>StockLevel</c>.</summary>
    public string Code => (_known ?? Items).Code;

    /// <summary>The word in documents and replies, e.g. <c>stockLevel</c>.</summary>
    public string Word => JsonNamingPolicy.CamelCase.ConvertName(Code);

    /// <summary>One of them in words, e.g. <c>stock level</c>.</summary>
    public string One => (_known ?? Items).One;

    /// <summary>Several of them in words, e.g. <c>stock levels</c>.</summary>
    public string Many => (_known ?? Items).Many;

    /// <summary>Whether people look after which of one system is which of another; otherwise it goes with what does.</summary>
    public bool IsPaired => (_known ?? Items).IsPaired;

    /// <summary>Whether it tells of persons, so that its values are not kept beyond what is needed.</summary>
    public bool TellsOfPersons => this == Customer || this == Order;

    /// <summary>Adds a kind; one that is there already is that one.</summary>
    /// <param name="code">A stable word, in PascalCase.</param>
    /// <param name="one">One of them in words.</param>
    /// <param name="many">Several of them in words.</param>
    /// <param name="isPaired">Whether people look after which of one system is which of another.</param>
    public static RecordKind Add(string code, string one, string many, bool isPaired = false) =>
        ByCode.GetOrAdd(code, _ => new RecordKind(new Known(ByCode.Count, code, one, many, isPaired)));

    /// <summary>The kind with a code.</summary>
    /// <exception cref="InvalidOperationException">There is none: what was kept is a newer version's.</exception>
    public static RecordKind Of(string code) =>
        ByCode.TryGetValue(code, out var kind) ? kind : throw new InvalidOperationException($"There is no kind of record “{code}”.");

    /// <summary>Reads a code or a word.</summary>
    public static bool TryParse([NotNullWhen(true)] string? word, out RecordKind kind)
    {
        kind = default;
        return word is not null && ByCode.TryGetValue(word, out kind);
    }

    /// <inheritdoc/>
    public static RecordKind Parse(string s, IFormatProvider? provider) =>
        TryParse(s, out var kind) ? kind : throw new FormatException($"There is no kind of record “{s}”.");

    /// <inheritdoc/>
    public static bool TryParse([NotNullWhen(true)] string? s, IFormatProvider? provider, out RecordKind result) => TryParse(s, out result);

    /// <summary>Its code.</summary>
    public override string ToString() => Code;

    /// <summary>Kinds are in the order in which they were added.</summary>
    public int CompareTo(RecordKind other) => (_known ?? Items).Place.CompareTo((other._known ?? Items).Place);

    /// <inheritdoc cref="CompareTo"/>
    public static bool operator <(RecordKind left, RecordKind right) => left.CompareTo(right) < 0;

    /// <inheritdoc cref="CompareTo"/>
    public static bool operator >(RecordKind left, RecordKind right) => left.CompareTo(right) > 0;

    /// <inheritdoc cref="CompareTo"/>
    public static bool operator <=(RecordKind left, RecordKind right) => left.CompareTo(right) <= 0;

    /// <inheritdoc cref="CompareTo"/>
    public static bool operator >=(RecordKind left, RecordKind right) => left.CompareTo(right) >= 0;

    private sealed class Json : JsonConverter<RecordKind>
    {
        public override RecordKind Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.String ? Of(reader.GetString()) : throw new JsonException();

        public override void Write(Utf8JsonWriter writer, RecordKind value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.Word);

        public override RecordKind ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            Of(reader.GetString());

        public override void WriteAsPropertyName(Utf8JsonWriter writer, RecordKind value, JsonSerializerOptions options) =>
            writer.WritePropertyName(value.Word);

        private static RecordKind Of(string? word) => TryParse(word, out var kind) ? kind : throw new JsonException();
    }
}
