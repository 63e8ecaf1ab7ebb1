namespace Narbit.Adapters;

/// <summary>The codes of faults that somebody goes by.</summary>
public static class FaultCodes
{
    /// <summary>What a cursor pointed into is no longer there: the reading has to begin afresh.</summary>
    public const string CursorStale = "read.stale";

    /// <summary>The address may not be connected to.</summary>
    public const string Forbidden = "address.forbidden";

    /// <summary>The system failed while it worked on the request: the request may have taken effect.</summary>
    public const string ServerError = "serverError";

    /// <summary>The system said no to the request as a whole.</summary>
    public const string Rejected = "rejected";

    /// <summary>The system said that the request conflicts with what it has; it may be that an earlier attempt arrived.</summary>
    public const string Conflict = "conflict";
}
