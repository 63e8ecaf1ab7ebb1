using System.Linq.Expressions;

namespace Narbit;

/// <summary>Says of all that they are so only where there are some: nothing at all proves nothing.</summary>
internal static class NoneIsNotAll
{
    // It stands in a namespace around all tests, and so comes before the library's own.
    public static void ShouldAllBe<T>(this IEnumerable<T> actual, Expression<Func<T, bool>> condition, string? message = null)
    {
        List<T> all = [.. actual];
        all.ShouldNotBeEmpty(message);
        ShouldBeEnumerableTestExtensions.ShouldAllBe(all, condition, message);
    }
}
