namespace Narbit.Web.Pairing;

public sealed record Decided(IReadOnlyList<long> Ids);
