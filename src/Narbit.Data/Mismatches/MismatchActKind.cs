using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Mismatches;

/// <summary>What can be done about mismatches.</summary>
[JsonConverter(typeof(CamelCaseEnum<MismatchActKind>))]
public enum MismatchActKind
{
    /// <summary>The way out that was suggested was taken.</summary>
    Applied,

    /// <summary>It is to be seen again later.</summary>
    PutOff,

    /// <summary>Somebody has it now, or nobody.</summary>
    Given,

    /// <summary>Somebody says something about it.</summary>
    Remark,

    /// <summary>It is settled elsewhere, or as it should be.</summary>
    Settled,

    /// <summary>It was gone or settled, and was seen again.</summary>
    CameBack,
}
