using System.Text.Json.Serialization;

namespace Narbit.Core.Timetables;

/// <summary>A day of the week, by the three letters that documents use.</summary>
[JsonConverter(typeof(CamelCaseEnum<Weekday>))]
public enum Weekday
{
    /// <summary>Monday.</summary>
    Mon,

    /// <summary>Tuesday.</summary>
    Tue,

    /// <summary>Wednesday.</summary>
    Wed,

    /// <summary>Thursday.</summary>
    Thu,

    /// <summary>Friday.</summary>
    Fri,

    /// <summary>Saturday.</summary>
    Sat,

    /// <summary>Sunday.</summary>
    Sun,
}
