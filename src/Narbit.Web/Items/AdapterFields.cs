using Narbit.Core.Records;
using Narbit.Engine.Systems;

namespace Narbit.Web.Items;

/// <summary>The fields of a system, as its description has them.</summary>
internal sealed class AdapterFields(AdapterSource adapters)
{
    /// <summary>The fields of a kind; null where the system cannot be opened or offers none of that kind.</summary>
    public async Task<FieldSet?> OfAsync(string systemId, CancellationToken cancel, RecordKind kind = default) =>
        (await adapters.ForAsync(systemId, cancel)).ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind)?.Fields;
}
