using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>One line of a case file for orders.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Order">The order.</param>
/// <param name="Known">What the hub knows.</param>
/// <param name="Expect">Left unread; there so that case files can carry it.</param>
public sealed record OrderCase(OrderRule? Rule, Order? Order, KnownToHub? Known, JsonElement? Expect = null);

/// <summary>Amounts as text, without zeros at their end.</summary>
internal sealed class PlainDecimal : JsonConverter<decimal>
{
    public override decimal Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType == JsonTokenType.String
            ? decimal.Parse(reader.GetString()!, NumberStyles.Number, CultureInfo.InvariantCulture)
            : reader.GetDecimal();

    public override void Write(Utf8JsonWriter writer, decimal value, JsonSerializerOptions options) => writer.WriteStringValue(Text(value));

    public static string Text(decimal value) => Numbers.Plain(value);
}

/// <summary>An address keeps the parts that it was given, those that are null among them.</summary>
internal sealed class OrderAddressJson : JsonConverter<OrderAddress>
{
    public override OrderAddress Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartObject)
            throw new JsonException();
        var values = new Dictionary<string, string?>(StringComparer.Ordinal);
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var part = reader.GetString()!;
            if (!OrderAddress.Parts.Contains(part))
                throw new JsonException($"The JSON property '{part}' could not be mapped to any .NET member.");
            reader.Read();
            values[part] = reader.TokenType == JsonTokenType.Null ? null : reader.GetString();
        }

        return new OrderAddress
        {
            Name = values.GetValueOrDefault("name"),
            Company = values.GetValueOrDefault("company"),
            Street = values.GetValueOrDefault("street"),
            City = values.GetValueOrDefault("city"),
            Postcode = values.GetValueOrDefault("postcode"),
            Country = values.GetValueOrDefault("country"),
            Phone = values.GetValueOrDefault("phone"),
            Given = [.. values.Keys],
        };
    }

    public override void Write(Utf8JsonWriter writer, OrderAddress value, JsonSerializerOptions options)
    {
        writer.WriteStartObject();
        foreach (var part in value.Given)
            writer.WriteString(part, value.Part(part));
        writer.WriteEndObject();
    }
}

/// <summary><c>highest</c>, <c>spread</c>, or a number.</summary>
internal sealed class ShippingRateJson : JsonConverter<ShippingRate>
{
    public override ShippingRate Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.Number)
            return new ShippingRate(Spread: false, reader.GetDecimal());
        return reader.GetString() switch
        {
            "highest" => ShippingRate.Highest,
            "spread" => new ShippingRate(Spread: true, Fixed: null),
            { } text when decimal.TryParse(text, NumberStyles.Number, CultureInfo.InvariantCulture, out var rate) => new ShippingRate(
                Spread: false,
                rate
            ),
            _ => throw new JsonException(),
        };
    }

    public override void Write(Utf8JsonWriter writer, ShippingRate value, JsonSerializerOptions options) =>
        writer.WriteStringValue(
            value.Spread ? "spread"
            : value.Fixed is { } rate ? PlainDecimal.Text(rate)
            : "highest"
        );
}

/// <summary>A cause with its line or its amount, where it has one.</summary>
internal sealed class OrderCauseJson : JsonConverter<OrderCause>
{
    public override OrderCause Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        using var json = JsonDocument.ParseValue(ref reader);
        var root = json.RootElement;
        return new OrderCause(root.GetProperty("cause").GetString()!, root.GetProperty("outcome").Deserialize<OrderOutcome>(options))
        {
            Line = root.TryGetProperty("line", out var line) ? line.GetString() : null,
            NamesLine = root.TryGetProperty("line", out _),
            By = root.TryGetProperty("by", out var by) ? decimal.Parse(by.GetString()!, CultureInfo.InvariantCulture) : null,
        };
    }

    public override void Write(Utf8JsonWriter writer, OrderCause value, JsonSerializerOptions options)
    {
        writer.WriteStartObject();
        writer.WriteString("cause", value.Code);
        writer.WritePropertyName("outcome");
        JsonSerializer.Serialize(writer, value.Outcome, options);
        if (value.NamesLine)
            writer.WriteString("line", value.Line);
        if (value.By is { } by)
            writer.WriteString("by", PlainDecimal.Text(by));
        writer.WriteEndObject();
    }
}

/// <summary>A customer's key as a text, or <c>{"create": …}</c>.</summary>
internal sealed class OrderCustomerJson : JsonConverter<OrderCustomer>
{
    public override OrderCustomer Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.String)
            return new OrderCustomer(reader.GetString(), null);
        using var json = JsonDocument.ParseValue(ref reader);
        return new OrderCustomer(null, json.RootElement.GetProperty("create").Deserialize<NewCustomer>(options));
    }

    public override void Write(Utf8JsonWriter writer, OrderCustomer value, JsonSerializerOptions options)
    {
        if (value.Create is null)
        {
            writer.WriteStringValue(value.Key);
            return;
        }

        writer.WriteStartObject();
        writer.WritePropertyName("create");
        JsonSerializer.Serialize(writer, value.Create, options);
        writer.WriteEndObject();
    }
}
