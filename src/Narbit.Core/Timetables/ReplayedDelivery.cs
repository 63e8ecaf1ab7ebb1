namespace Narbit.Core.Timetables;

/// <summary>Pieces that came to the shelf.</summary>
/// <param name="At">UTC.</param>
/// <param name="Sku">What.</param>
/// <param name="Quantity">Pieces, at least 1.</param>
public readonly record struct ReplayedDelivery(DateTimeOffset At, string Sku, int Quantity);
