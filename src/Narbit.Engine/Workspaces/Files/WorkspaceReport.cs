namespace Narbit.Engine.Workspaces.Files;

/// <summary>What taking files in would do, or has done.</summary>
public sealed record WorkspaceReport
{
    /// <summary>Tells what was looked at, files and workspace, from what may be there later.</summary>
    public required string Basis { get; init; }

    /// <summary>What is wrong with the files; while there is anything, nothing is taken in.</summary>
    public required IReadOnlyList<WorkspaceFault> Faults { get; init; }

    /// <summary>What changes.</summary>
    public required IReadOnlyList<WorkspaceChange> Changes { get; init; }

    /// <summary>What that means for others: for times, amounts and pairs, and for credentials that would go elsewhere.</summary>
    public required IReadOnlyList<string> Means { get; init; }

    /// <summary>What the workspace has and the files do not; it stays.</summary>
    public required IReadOnlyList<string> Stays { get; init; }
}
