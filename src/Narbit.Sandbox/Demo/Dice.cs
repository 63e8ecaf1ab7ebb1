namespace Narbit.Sandbox.Demo;

/// <summary>SplitMix64: the same seed gives the same throws on every machine and every runtime.</summary>
internal sealed class Dice(ulong seed)
{
    private ulong _state = seed;

    public ulong Next()
    {
        var z = _state += 0x9E3779B97F4A7C15;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
        return z ^ (z >> 31);
    }

    /// <summary>From 0 to below <paramref name="most"/>.</summary>
    public int Below(int most) => (int)(Next() % (ulong)most);

    public bool Chance(int outOfHundred) => Below(100) < outOfHundred;

    public decimal Between(decimal from, decimal to) => from + (to - from) * Below(10_000) / 10_000m;
}
