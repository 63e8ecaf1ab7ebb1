namespace Narbit.Core.Orders;

/// <param name="Code">The voucher's code.</param>
/// <param name="Amount">What is paid with it, gross.</param>
public sealed record OrderVoucher(string? Code, decimal Amount);
