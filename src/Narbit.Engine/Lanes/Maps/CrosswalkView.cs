using Narbit.Core;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>A crosswalk with both sides' codes; those without an entry first.</summary>
/// <param name="Table">Its name.</param>
/// <param name="SourceField">The field that its codes come from.</param>
/// <param name="TargetField">The field that they go to.</param>
/// <param name="Here">The source's codes.</param>
/// <param name="There">The target's codes.</param>
/// <param name="Faults">What is wrong with it.</param>
public sealed record CrosswalkView(
    string Table,
    string SourceField,
    string TargetField,
    IReadOnlyList<CodeHere> Here,
    IReadOnlyList<CodeThere> There,
    IReadOnlyList<RuleFault> Faults
)
{
    /// <summary>How many codes have no entry.</summary>
    public int Unlisted => Here.Count(c => c.To is null);

    /// <summary>How many records wait for one.</summary>
    public int Waiting => Here.Where(c => c.To is null).Sum(c => c.Records);
}
