namespace Narbit.Sandbox.BackOffice;

/// <summary>A payment that was registered apart.</summary>
public sealed record OfficeReceipt(string Number, string ExternalNumber, string Document, string Type, decimal Amount);
