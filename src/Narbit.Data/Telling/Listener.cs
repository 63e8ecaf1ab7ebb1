namespace Narbit.Data.Telling;

/// <summary>Another tool that is told by webhook of what is new.</summary>
public sealed class Listener
{
    public long Id { get; set; }

    public required string Name { get; set; }

    public required string Address { get; set; }

    /// <summary>What its webhooks are signed with, encrypted; shown once.</summary>
    public required string ProtectedSecret { get; set; }

    /// <summary>Whether it is told only of what does harm by itself, as people are told of at once.</summary>
    public bool OnlyHarm { get; set; }

    /// <summary>The address at which people reach Narbit, for the links that it is told.</summary>
    public required string LinksTo { get; set; }

    /// <summary>It was told of all that opened until then.</summary>
    public DateTimeOffset Until { get; set; }
}
