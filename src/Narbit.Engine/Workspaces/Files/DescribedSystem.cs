using Narbit.Adapters;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>A system as its files say it is.</summary>
/// <param name="Rights">What may be done with it.</param>
/// <param name="Text">Its description.</param>
/// <param name="Document">The same, read.</param>
public sealed record DescribedSystem(WorkspaceSystem Rights, string Text, ISystemDocument Document);
