using Narbit.Core;

namespace Narbit.Engine.Lanes;

/// <summary>Counts, record by record, what a document on trial would do.</summary>
public abstract class TrialTally
{
    /// <summary>Adds a record.</summary>
    /// <param name="pair">The record.</param>
    /// <param name="saved">What the saved document makes of it; null where that cannot be applied.</param>
    /// <param name="tried">What the document on trial makes of it.</param>
    public abstract void Add(LanePair pair, Computed? saved, Computed tried);

    /// <summary>What came of it.</summary>
    /// <param name="faults">The findings of the document's check.</param>
    public abstract TrialResult Result(IReadOnlyList<RuleFault> faults);
}
