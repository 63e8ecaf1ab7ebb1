using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>What replies are written in.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReplyForm>))]
public enum ReplyForm
{
    /// <summary>JSON.</summary>
    Json,

    /// <summary>
    /// XML without a document type. An element is an object of its elements and attributes (with @ before their names), or its text;
    /// elements of one name beside each other are a list.
    /// </summary>
    Xml,

    /// <summary>CSV: a list of objects, one a row, by the names in the first line.</summary>
    Csv,
}
