using Narbit.House;

namespace Narbit.Engine.Tests;

public sealed class HouseTests
{
    [Fact]
    public void Print()
    {
        foreach (
            var a in new[]
            {
                typeof(Narbit.Core.Amount).Assembly,
                typeof(Narbit.Data.Database).Assembly,
                typeof(Narbit.Engine.Lanes.LaneWork).Assembly,
            }
        )
        {
            var refs = References.Of(a).Where(r => r.To.Assembly == a).ToList();
            File.AppendAllLines("/tmp/refs2.txt", refs.Select(r => $"{r.From.Namespace} {r.From.Name} -> {r.To.Namespace} {r.To.Name}"));
        }
    }
}
