using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>A lane's document, ready to be applied to pairs of records. Pure: the same inputs give the same result.</summary>
public abstract class LaneComputation
{
    /// <summary>Whether what both sides agree on must be kept even where nothing is written.</summary>
    public virtual bool KeepsSource => false;

    /// <summary>The most records that a run creates; null: no limit.</summary>
    public virtual int? Portion => null;

    /// <summary>What becomes of a pair. One that breaks the computation has that as its reason; the others go on.</summary>
    public Computed Compute(LanePair pair)
    {
        try
        {
            return pair.Unbelievable is { } words ? Computed.Not("unreadable", words) : Of(pair);
        }
        catch (OverflowException)
        {
            return Computed.Not("amount.tooLarge", "its amounts are too large to compute with");
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return Computed.Not("broke", $"it cannot be computed ({error.GetType().Name}: {error.Message.TrimEnd('.')})");
        }
    }

    /// <summary>What the document makes of a pair.</summary>
    protected abstract Computed Of(LanePair pair);

    /// <summary>What is in the way of a field that cannot be read, or null.</summary>
    private protected static Computed? Unreadable(SideRecord record, string side, params ReadOnlySpan<FieldDescription?> needed)
    {
        if (record.Problems.Count == 0)
            return null;
        foreach (var problem in record.Problems)
        foreach (var field in needed)
            if (field?.Name == problem.Field)
                return Computed.Not(new Reason("unreadable", $"{side}: {problem.Message}").With("field", problem.Field));
        return null;
    }
}

/// <summary>A computation of pairs of one type.</summary>
/// <typeparam name="T">The pair that its kind reads.</typeparam>
public abstract class LaneComputation<T> : LaneComputation
    where T : LanePair
{
    /// <inheritdoc/>
    protected sealed override Computed Of(LanePair pair) =>
        pair is T own ? Of(own) : throw new InvalidOperationException($"{GetType().Name} was given a {pair.GetType().Name}.");

    /// <inheritdoc cref="LaneComputation.Of"/>
    protected abstract Computed Of(T pair);
}
