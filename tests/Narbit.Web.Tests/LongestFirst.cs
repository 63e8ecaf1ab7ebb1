using Xunit.Sdk;
using Xunit.v3;

[assembly: TestCollectionOrderer(typeof(Narbit.Web.Tests.LongestFirst))]

namespace Narbit.Web.Tests;

/// <summary>Begins with what takes longest, so that at the end nothing long is left that runs alone.</summary>
public sealed class LongestFirst : ITestCollectionOrderer
{
    private static readonly string[] Long =
    [
        nameof(KillTests),
        nameof(PairStoryTests),
        nameof(AxeTests),
        nameof(MapStoryTests),
        nameof(OwnSystemsStoryTests),
        nameof(DeskDayTests),
        nameof(SharedStoryTests),
        nameof(ManyStoresOrderTests),
        nameof(FourStoresStoryTests),
        nameof(NewLaneStoryTests),
        nameof(StoryTests),
        nameof(OrderStoryTests),
    ];

    /// <inheritdoc/>
    public IReadOnlyCollection<TTestCollection> OrderTestCollections<TTestCollection>(IReadOnlyCollection<TTestCollection> testCollections)
        where TTestCollection : ITestCollection => [.. testCollections.OrderBy(c => Place(c.TestCollectionDisplayName))];

    private static int Place(string name)
    {
        var at = Array.FindIndex(Long, l => name.Contains($".{l} ", StringComparison.Ordinal));
        return at < 0 ? Long.Length : at;
    }
}
