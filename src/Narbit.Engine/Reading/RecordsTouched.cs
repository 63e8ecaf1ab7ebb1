using Narbit.Core.Records;

namespace Narbit.Engine.Reading;

/// <summary>Records of a kind in a system that something happened to.</summary>
/// <param name="SystemId">The system.</param>
/// <param name="Kind">The kind.</param>
/// <param name="Keys">The records.</param>
public sealed record RecordsTouched(string SystemId, RecordKind Kind, IReadOnlyCollection<string> Keys)
{
    /// <summary>The jobs whose turns led to it, which need not be told.</summary>
    public IReadOnlyList<string> Through { get; init; } = [];
}
