namespace Narbit.Data.Mismatches;

/// <summary>How many mismatches a look changed.</summary>
/// <param name="New">Seen for the first time.</param>
/// <param name="CameBack">Seen again after they were gone or settled.</param>
/// <param name="Gone">No longer there.</param>
public readonly record struct Looked(int New, int CameBack, int Gone)
{
    /// <summary>Whether anything is otherwise than before.</summary>
    public bool Any => New + CameBack + Gone > 0;
}
