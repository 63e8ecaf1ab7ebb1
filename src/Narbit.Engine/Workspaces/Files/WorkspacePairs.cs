using Narbit.Core.Records;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>
/// <c>pairs/KIND-HUB-OTHER.json</c>: how two systems are paired. The pairs themselves are the table beside it, see
/// <see cref="WorkspacePairLine"/>.
/// </summary>
public sealed record WorkspacePairs
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/workspace-pairs/1";

    /// <summary>The format that it was written in.</summary>
    public required string Format { get; init; }

    /// <summary>The kind of record.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>The hub's short name.</summary>
    public required string Hub { get; init; }

    /// <summary>The other system's.</summary>
    public required string Other { get; init; }

    /// <summary>Whether certain pairs are linked without being asked for.</summary>
    public bool AcceptsCertain { get; init; }

    /// <summary>How the first stock-taking was done; missing: not yet.</summary>
    public StockTakingWay? Way { get; init; }

    /// <summary>What the other system's SKUs have before the hub's.</summary>
    public string? HabitBefore { get; init; }

    /// <summary>What the other system's SKUs have after the hub's.</summary>
    public string? HabitAfter { get; init; }
}
