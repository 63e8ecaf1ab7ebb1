using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>An address; it is passed on with just the parts that were given.</summary>
[JsonConverter(typeof(OrderAddressJson))]
public sealed record OrderAddress
{
    /// <summary>What its parts are called in JSON, in the order of the properties.</summary>
    public static IReadOnlyList<string> Parts { get; } = ["name", "company", "street", "city", "postcode", "country", "phone"];

    /// <summary>The person's name.</summary>
    public string? Name { get; init; }

    /// <summary>The company's name.</summary>
    public string? Company { get; init; }

    /// <summary>Street and number.</summary>
    public string? Street { get; init; }

    /// <summary>Town.</summary>
    public string? City { get; init; }

    /// <summary>Postcode.</summary>
    public string? Postcode { get; init; }

    /// <summary>ISO 3166-1 alpha-2.</summary>
    public string? Country { get; init; }

    /// <summary>Telephone number of whoever receives it.</summary>
    public string? Phone { get; init; }

    /// <summary>The parts that were given, by their names in JSON.</summary>
    [JsonIgnore]
    public IReadOnlyList<string> Given { get; init; } = Parts;

    /// <summary>A part by what it is called in JSON.</summary>
    public string? Part(string name) =>
        name switch
        {
            "name" => Name,
            "company" => Company,
            "street" => Street,
            "city" => City,
            "postcode" => Postcode,
            "country" => Country,
            _ => Phone,
        };
}
