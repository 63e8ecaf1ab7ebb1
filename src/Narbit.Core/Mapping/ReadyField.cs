using Narbit.Core.Records;

namespace Narbit.Core.Mapping;

/// <summary>A target field with its chain, and the way back where it may flow back.</summary>
/// <param name="Chain">The chain.</param>
/// <param name="Back">The way back; null: it flows to the target only.</param>
public sealed record ReadyField(Chain Chain, Reversal? Back)
{
    /// <summary>The target's field.</summary>
    public FieldDescription Target => Chain.Target;

    /// <summary>The mapping.</summary>
    public FieldMapping Mapping => Chain.Mapping;
}
