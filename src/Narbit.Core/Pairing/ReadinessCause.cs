using System.Text.Json.Serialization;

namespace Narbit.Core.Pairing;

/// <summary>What keeps a record from being paired or sent well.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReadinessCause>))]
public enum ReadinessCause
{
    /// <summary>It has no SKU.</summary>
    SkuMissing,

    /// <summary>Another record of the same system has its SKU.</summary>
    SkuTwice,

    /// <summary>Its SKU differs from another's, or from its partner's, only in form.</summary>
    SkuForm,

    /// <summary>Its SKU is that of another record than its partner.</summary>
    SkuOfAnother,

    /// <summary>Its barcode is no GTIN or has a wrong check digit.</summary>
    BarcodeInvalid,

    /// <summary>Another record of the same system has its barcode.</summary>
    BarcodeTwice,

    /// <summary>It lacks a field that the target requires.</summary>
    Missing,

    /// <summary>Its price is zero or less.</summary>
    PriceZero,

    /// <summary>Its title is longer than the target takes.</summary>
    TitleTooLong,
}
