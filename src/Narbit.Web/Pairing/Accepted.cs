namespace Narbit.Web.Pairing;

public sealed record Accepted(int Decisions);
