using CsCheck;

namespace Narbit.Core.Tests;

public static class Any
{
    /// <summary>Any one of some values.</summary>
    public static Gen<T> Of<T>(params T[] values) => Gen.Int[0, values.Length - 1].Select(i => values[i]);
}
