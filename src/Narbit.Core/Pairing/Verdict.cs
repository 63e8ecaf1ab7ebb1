using System.Text.Json.Serialization;

namespace Narbit.Core.Pairing;

/// <summary>How sure pairing is of a record.</summary>
[JsonConverter(typeof(CamelCaseEnum<Verdict>))]
public enum Verdict
{
    /// <summary>Strong evidence that nothing contradicts and no other record shares.</summary>
    Certain,

    /// <summary>The best partner over the whole set, with a distance to the next; a person should look.</summary>
    Likely,

    /// <summary>There are candidates, and no clear one among them.</summary>
    Ambiguous,

    /// <summary>Nothing on the other side resembles it.</summary>
    None,
}
