namespace Narbit.Engine.Lanes;

/// <summary>What another description does to a lane.</summary>
/// <param name="Lane">The lane's short name.</param>
/// <param name="Name">The lane's name.</param>
/// <param name="Faults">What would be wrong with it that is not wrong now.</param>
public sealed record LaneEffect(string Lane, string Name, IReadOnlyList<string> Faults);
