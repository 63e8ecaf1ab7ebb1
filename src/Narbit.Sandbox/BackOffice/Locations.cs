namespace Narbit.Sandbox.BackOffice;

public static class Locations
{
    public const string Kilnyard = "Kilnyard";
    public const string QuayStreet = "Quay Street";
    public const string Overflow = "Overflow";

    public static readonly string[] All = [Kilnyard, QuayStreet, Overflow];
}
