using System.Text.Json.Serialization;

namespace Narbit.Core.Pairing;

/// <summary>What a piece of evidence is about.</summary>
[JsonConverter(typeof(CamelCaseEnum<EvidenceKind>))]
public enum EvidenceKind
{
    /// <summary>The SKU.</summary>
    Sku,

    /// <summary>The barcode.</summary>
    Barcode,

    /// <summary>The manufacturer's part number.</summary>
    PartNumber,

    /// <summary>The title with its option values.</summary>
    Title,

    /// <summary>A number, size, unit or colour in the title.</summary>
    Measure,

    /// <summary>The brand.</summary>
    Brand,

    /// <summary>The price.</summary>
    Price,

    /// <summary>The sisters under the same parent.</summary>
    Group,

    /// <summary>What was decided for another system.</summary>
    Earlier,

    /// <summary>The email address.</summary>
    Email,

    /// <summary>The phone number.</summary>
    Phone,

    /// <summary>The account number.</summary>
    Account,

    /// <summary>The name.</summary>
    Name,

    /// <summary>The company.</summary>
    Company,

    /// <summary>The postcode.</summary>
    Postcode,

    /// <summary>Another record that fits as well.</summary>
    Rival,
}
