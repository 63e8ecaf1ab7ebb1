namespace Narbit.Sandbox.WebShop;

/// <summary>A write that took effect, for those who want to check that none was lost and none came twice.</summary>
public sealed record AppliedWrite(string Key, long VariantId, int? PriceCents, int? Quantity, DateTimeOffset At);
