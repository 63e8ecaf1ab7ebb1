namespace Narbit.Sandbox.BackOffice;

/// <summary>A payment of a document.</summary>
public sealed record OfficePayment(string Type, decimal Amount);
