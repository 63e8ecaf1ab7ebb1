using System.Text.Json.Serialization;

namespace Narbit.Core;

/// <summary>How serious a finding about a rule is.</summary>
[JsonConverter(typeof(CamelCaseEnum<Severity>))]
public enum Severity
{
    /// <summary>The rule can be saved; the person should look at this first.</summary>
    Warn,

    /// <summary>The rule cannot be saved as it is.</summary>
    Refuse,
}
