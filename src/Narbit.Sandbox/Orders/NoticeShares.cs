namespace Narbit.Sandbox.Orders;

/// <summary>How badly notices arrive: each a share, from 0 to 1.</summary>
/// <param name="Twice">Sent twice.</param>
/// <param name="Late">Sent a while later, after others.</param>
/// <param name="Never">Not sent at all.</param>
public sealed record NoticeShares(double Twice = 0, double Late = 0, double Never = 0);
