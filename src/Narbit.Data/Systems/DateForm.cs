using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Systems;

/// <summary>How dates are written on screen.</summary>
[JsonConverter(typeof(CamelCaseEnum<DateForm>))]
public enum DateForm
{
    /// <summary>29 Nov 2026</summary>
    DayFirst,

    /// <summary>Nov 29, 2026</summary>
    MonthFirst,

    /// <summary>29.11.2026</summary>
    Dots,

    /// <summary>29/11/2026</summary>
    Slashes,

    /// <summary>2026-11-29 (ISO 8601)</summary>
    YearFirst,
}
