namespace Narbit.Core.Orders;

/// <summary>What is done with a document.</summary>
/// <param name="Acts">What is done; nothing where it stays as it is.</param>
/// <param name="Cause">The cause for which a person decides; null: nobody has to.</param>
public sealed record AfterPostingVerdict(IReadOnlyList<AfterPosting> Acts, string? Cause);
