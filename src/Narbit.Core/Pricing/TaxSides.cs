namespace Narbit.Core.Pricing;

/// <summary>Whether source and target amounts contain tax.</summary>
/// <param name="Source">The source's amounts.</param>
/// <param name="Target">The target's amounts.</param>
public sealed record TaxSides(TaxBasis Source = TaxBasis.Net, TaxBasis Target = TaxBasis.Net);
