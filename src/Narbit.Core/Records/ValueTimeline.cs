namespace Narbit.Core.Records;

/// <summary>What a field's value was at an instant, told from what it has now and from the changes that were seen.</summary>
public static class ValueTimeline
{
    /// <summary>
    /// The last change up to the instant set the value; where there is none, it is what the first later change replaced; where nothing
    /// ever changed, what the field has now.
    /// </summary>
    /// <param name="at">The instant.</param>
    /// <param name="firstRead">When the record was first read.</param>
    /// <param name="now">What the field has now.</param>
    /// <param name="before">The last change up to the instant.</param>
    /// <param name="after">The first change after it.</param>
    public static ValueThen At(DateTimeOffset at, DateTimeOffset firstRead, string? now, SeenChange? before, SeenChange? after)
    {
        if (before is not null)
            return new ValueThen(before.New, before.At, after?.At, before, Earlier: false);
        return new ValueThen(after is null ? now : after.Old, firstRead, after?.At, null, Earlier: at < firstRead);
    }

    /// <summary>The same, from all changes in the order in which they were seen.</summary>
    public static ValueThen At(DateTimeOffset at, DateTimeOffset firstRead, string? now, IEnumerable<SeenChange> changes)
    {
        SeenChange? before = null;
        foreach (var change in changes)
        {
            if (change.At > at)
                return At(at, firstRead, now, before, change);
            before = change;
        }

        return At(at, firstRead, now, before, null);
    }
}
