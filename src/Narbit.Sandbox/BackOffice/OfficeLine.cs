namespace Narbit.Sandbox.BackOffice;

/// <summary>A line of a document.</summary>
public sealed record OfficeLine(
    string Kind,
    string Article,
    string Text,
    int Quantity,
    decimal UnitPrice,
    decimal Net,
    decimal Tax,
    decimal Gross,
    decimal TaxRate,
    string ExternalLine = ""
);
