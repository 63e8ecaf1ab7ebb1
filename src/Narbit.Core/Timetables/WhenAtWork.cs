using System.Text.Json.Serialization;

namespace Narbit.Core.Timetables;

/// <summary>What becomes of a time at which the job's last turn is still at work.</summary>
[JsonConverter(typeof(CamelCaseEnum<WhenAtWork>))]
public enum WhenAtWork
{
    /// <summary>Its turn begins once the last one is over; times that pass meanwhile share it.</summary>
    Wait,

    /// <summary>It is passed over.</summary>
    Skip,
}
