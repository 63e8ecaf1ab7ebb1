using Narbit.Adapters.Rest;
using Narbit.Core.Describing;

namespace Narbit.Adapters.Describing;

/// <summary>What a list of a system is taken for. It counts only once a person has seen it.</summary>
public sealed record ResourceProposal
{
    /// <summary>How it would be described.</summary>
    public required RestResource Resource { get; init; }

    /// <summary>What replies are written in.</summary>
    public ReplyForm Replies { get; init; }

    /// <summary>The fields with what speaks for them, in the order of the description's.</summary>
    public required IReadOnlyList<FieldProposal> Fields { get; init; }

    /// <summary>Why it is that kind, how it goes on, and what to look at, a sentence each.</summary>
    public required IReadOnlyList<string> Remarks { get; init; }

    /// <summary>How many entries were looked at.</summary>
    public int Entries { get; init; }

    /// <summary>Other places in the reply where lists stand.</summary>
    public IReadOnlyList<string> OtherLists { get; init; } = [];
}
