using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>Compares the lists within records by the meaning of their fields.</summary>
public static class ChildComparison
{
    /// <summary>
    /// Whether these are the entries of some lists as another record has them: as many, in the same order, each field by its meaning. Of
    /// a list that is added to, it is enough that the other has them all.
    /// </summary>
    /// <param name="mine">One record's.</param>
    /// <param name="other">The other record's.</param>
    /// <param name="described">
    /// The lists that are compared, and what their fields are; a list that is named in neither record is alike.
    /// </param>
    public static bool SameAs(this RecordChildren mine, RecordChildren other, IReadOnlyList<ChildList> described) =>
        described.Where(list => mine.Lists.Contains(list.Name)).All(list => Same(list, mine[list.Name], other[list.Name]));

    private static bool Same(
        ChildList list,
        IReadOnlyList<IReadOnlyDictionary<string, string>> mine,
        IReadOnlyList<IReadOnlyDictionary<string, string>> theirs
    ) =>
        list.Adds
            ? mine.All(m => theirs.Any(t => Same(list.Fields, m, t)))
            : mine.Count == theirs.Count && mine.Zip(theirs).All(p => Same(list.Fields, p.First, p.Second));

    // Only what is said here is compared: the other side may know more of an entry.
    private static bool Same(FieldSet fields, IReadOnlyDictionary<string, string> mine, IReadOnlyDictionary<string, string> theirs) =>
        mine.All(v => FieldComparison.Same(fields.Named(v.Key)?.Type ?? FieldType.Text, v.Value, theirs.GetValueOrDefault(v.Key)));
}
