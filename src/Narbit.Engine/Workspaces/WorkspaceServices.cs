using Microsoft.Extensions.DependencyInjection;
using Narbit.Engine.Workspaces.Files;

namespace Narbit.Engine.Workspaces;

/// <summary>What holds for the whole workspace, and the workspace as files.</summary>
public static class WorkspaceServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddWorkspaces(this IServiceCollection services) =>
        services.AddSingleton<WorkspaceDesk>().AddSingleton<WorkspaceExport>().AddSingleton<WorkspaceImport>().AddSingleton<RemovalDesk>();
}
