namespace Narbit.Adapters.Rest;

/// <summary>A call that asks for certain records.</summary>
public abstract record RestAsk : RestCall
{
    /// <summary>
    /// The parameter for what is asked for, joined by commas (in a body: a list); null: the path has <c>{key}</c>, and one record is asked
    /// for at a time.
    /// </summary>
    public string? Parameter { get; init; }

    /// <summary>The most that is asked for in a call.</summary>
    public int Size { get; init; } = 50;

    /// <summary>
    /// Where the reply keeps what was asked for, a list or a single entry; null: where the list's reply does. The empty path is the reply
    /// itself.
    /// </summary>
    public string? Records { get; init; }
}
