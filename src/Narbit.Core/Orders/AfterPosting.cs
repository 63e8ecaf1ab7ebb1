using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What becomes of a document when its order changes in the store.</summary>
[JsonConverter(typeof(CamelCaseEnum<AfterPosting>))]
public enum AfterPosting
{
    /// <summary>A person decides.</summary>
    Hold,

    /// <summary>The document is changed.</summary>
    Change,

    /// <summary>The document is taken out, and the order posted anew under the same number.</summary>
    Replace,

    /// <summary>The payment is registered apart, beside the document.</summary>
    Apart,

    /// <summary>The document is taken out.</summary>
    TakeOut,

    /// <summary>Nothing; the document stays as it is.</summary>
    Leave,
}
