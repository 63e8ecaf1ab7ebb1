using Narbit.Core.Records;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>A system as it is named wherever something of it is shown.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">Its name.</param>
/// <param name="Mark">Two letters that stand for it.</param>
/// <param name="Kind">What it is.</param>
public sealed record SystemTag(string Id, string Name, string Mark, SystemKind Kind)
{
    /// <summary>The tag of a system.</summary>
    public static SystemTag Of(ConnectedSystem system) => new(system.Id, system.Name, system.Mark, system.Kind);
}
