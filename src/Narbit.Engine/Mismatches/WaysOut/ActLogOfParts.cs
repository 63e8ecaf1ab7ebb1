namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>The same for parts of one form.</summary>
/// <typeparam name="TPart">The form of a part.</typeparam>
/// <param name="log">Where parts are noted.</param>
/// <param name="write">A part as JSON.</param>
public sealed class ActLog<TPart>(ActLog log, Func<TPart, string> write)
{
    /// <summary>The act's number.</summary>
    public long ActId => log.ActId;

    /// <summary>Notes a part.</summary>
    public Task DoneAsync(TPart part) => log.DoneAsync(write(part));
}
