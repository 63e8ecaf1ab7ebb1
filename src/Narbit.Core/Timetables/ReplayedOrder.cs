namespace Narbit.Core.Timetables;

/// <summary>An order as it really happened.</summary>
/// <param name="At">UTC.</param>
/// <param name="Store">Where.</param>
/// <param name="Sku">What.</param>
/// <param name="Quantity">Pieces, at least 1.</param>
public readonly record struct ReplayedOrder(DateTimeOffset At, string Store, string Sku, int Quantity);
