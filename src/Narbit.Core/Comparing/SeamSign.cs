using System.Text.Json.Serialization;

namespace Narbit.Core.Comparing;

/// <summary>The state of a field between two records.</summary>
[JsonConverter(typeof(CamelCaseEnum<SeamSign>))]
public enum SeamSign
{
    /// <summary>Same to the letter.</summary>
    Same,

    /// <summary>Same by meaning.</summary>
    SameByMeaning,

    /// <summary>A run would change it there.</summary>
    WillChange,

    /// <summary>It was changed there, and not here.</summary>
    ChangedThere,

    /// <summary>It was changed on both sides since they last agreed.</summary>
    ChangedOnBoth,

    /// <summary>Different, and no lane moves it.</summary>
    Differs,

    /// <summary>Missing on the hub's side.</summary>
    MissingHere,

    /// <summary>Missing on the other side.</summary>
    MissingThere,

    /// <summary>The other side has no such field.</summary>
    NotMapped,
}
