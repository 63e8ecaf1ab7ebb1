using Narbit.Core.Mapping;

namespace Narbit.Core.Comparing;

/// <summary>A proposal for one field of the target.</summary>
/// <param name="Mapping">The mapping.</param>
/// <param name="Crosswalk">The crosswalk that it needs; null: none.</param>
/// <param name="Reason">Why, in words.</param>
/// <param name="Agree">In how many paired records it gives what the target has.</param>
/// <param name="Compared">Of how many paired records in which the target has a value.</param>
/// <param name="Certain">Whether it may be accepted without a look: almost all values agree.</param>
public sealed record MapSuggestion(FieldMapping Mapping, Crosswalk? Crosswalk, string Reason, int Agree, int Compared, bool Certain);
