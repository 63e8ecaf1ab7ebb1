namespace Narbit.Engine.Workspaces.Files;

/// <summary>What may be done with a system, whose description is <c>systems/ID.json</c>.</summary>
public sealed record WorkspaceSystem
{
    /// <summary>Its short name.</summary>
    public required string Id { get; init; }

    /// <summary>Whether it may be read.</summary>
    public bool MayRead { get; init; } = true;

    /// <summary>Whether it may be written.</summary>
    public bool MayWrite { get; init; }

    /// <summary>Whether it is read as a whole at least once a day.</summary>
    public bool ReadsWholeDaily { get; init; } = true;

    /// <summary>Whether it is neither read nor written for now.</summary>
    public bool Paused { get; init; }
}
