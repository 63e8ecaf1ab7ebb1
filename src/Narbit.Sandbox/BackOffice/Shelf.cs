namespace Narbit.Sandbox.BackOffice;

/// <summary>Pieces at one location.</summary>
public sealed record Shelf(int OnHand, int Allocated, int Incoming);
