using Narbit.Core.Records;
using Narbit.Engine.Systems;

namespace Narbit.Web.Items;

/// <summary>The item fields of a system, as its description has them.</summary>
public sealed class AdapterFields(AdapterSource adapters)
{
    /// <summary>The fields; null where the system cannot be opened or offers no items.</summary>
    public async Task<FieldSet?> OfAsync(string systemId, CancellationToken cancel) =>
        (await adapters.ForAsync(systemId, cancel)).ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Item)?.Fields;
}
