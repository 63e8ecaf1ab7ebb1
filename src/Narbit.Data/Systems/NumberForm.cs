using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Records;

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
