using Narbit.Adapters.Files;
using Narbit.Core.Describing;

namespace Narbit.Adapters.Describing;

/// <summary>What the files of a system are taken for. It counts only once a person has seen it.</summary>
public sealed record FileProposal
{
    /// <summary>How they would be described.</summary>
    public required FileResource Resource { get; init; }

    /// <summary>What speaks for each column.</summary>
    public required IReadOnlyList<FieldProposal> Fields { get; init; }

    /// <summary>All columns, in their order.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>How it is laid out, why it is that kind, and what to look at, a sentence each.</summary>
    public required IReadOnlyList<string> Remarks { get; init; }

    /// <summary>How many rows were looked at.</summary>
    public required int Rows { get; init; }
}
