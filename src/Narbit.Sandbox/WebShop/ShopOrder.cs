namespace Narbit.Sandbox.WebShop;

/// <summary>An order placed on the shop's own page.</summary>
public sealed record ShopOrder(long Id, long VariantId, int Quantity, int PriceCents, DateTimeOffset At);
