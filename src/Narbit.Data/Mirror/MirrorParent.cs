using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>
/// What stands around several records in a system's reply, e.g. a product around its variants; kept once for all of them.
/// </summary>
public sealed class MirrorParent
{
    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required string Key { get; set; }

    /// <summary>As the system sent it, JSON, without the records within it.</summary>
    public required string Raw { get; set; }
}
