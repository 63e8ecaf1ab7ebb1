namespace Narbit.Core.Timetables;

/// <summary>What would have become of orders.</summary>
/// <param name="Accepted">Orders that the store took.</param>
/// <param name="Oversold">Of these, those that were not all on the shelf.</param>
/// <param name="Short">The pieces that they lacked.</param>
/// <param name="Missed">Refused orders that were on the shelf.</param>
/// <param name="Refused">Orders of more than the store showed.</param>
public readonly record struct ReplayResult(int Accepted, int Oversold, long Short, int Missed, int Refused);
