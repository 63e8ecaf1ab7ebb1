namespace Narbit.Sandbox.Orders;

/// <summary>A voucher that was paid with.</summary>
public sealed record UsedVoucher(string Code, decimal Amount);
