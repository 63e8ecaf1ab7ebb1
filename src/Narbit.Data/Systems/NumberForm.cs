using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Systems;

/// <summary>How numbers are written on screen: 1234.5 as an example.</summary>
[JsonConverter(typeof(CamelCaseEnum<NumberForm>))]
public enum NumberForm
{
    /// <summary>1,234.50</summary>
    Point,

    /// <summary>1.234,50</summary>
    Comma,

    /// <summary>1 234,50</summary>
    SpaceComma,

    /// <summary>1’234.50</summary>
    ApostrophePoint,
}
