using System.Text.Json.Serialization;

namespace Narbit.Core.Mismatches;

/// <summary>What a cause does as long as nobody settles it; the first harm most.</summary>
[JsonConverter(typeof(CamelCaseEnum<Harm>))]
public enum Harm
{
    /// <summary>Buyers can order what is not there.</summary>
    Oversold,

    /// <summary>A price is live that is not the one it should be.</summary>
    WrongPrice,

    /// <summary>Somebody has ordered, and nothing moves.</summary>
    OrderStuck,

    /// <summary>A system does not answer, or will soon not let Narbit in.</summary>
    Silent,

    /// <summary>Nothing flows until somebody decides.</summary>
    Stopped,

    /// <summary>Something was sent and did not get there.</summary>
    Failed,

    /// <summary>A value looks wrong, or both sides changed it.</summary>
    Doubtful,

    /// <summary>A record cannot be kept in step.</summary>
    NotComputed,

    /// <summary>A record has no partner.</summary>
    Unpaired,

    /// <summary>Something is to be put in order before it gets in the way.</summary>
    Untidy,

    /// <summary>Somebody began something and has not ended it.</summary>
    Unfinished,
}
