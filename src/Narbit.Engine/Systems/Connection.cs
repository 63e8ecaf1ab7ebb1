using Narbit.Adapters;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>A system with the adapter that talks to it.</summary>
/// <param name="System">The system as configured.</param>
/// <param name="Adapter">The adapter.</param>
public sealed record Connection(ConnectedSystem System, IAdapter Adapter);
