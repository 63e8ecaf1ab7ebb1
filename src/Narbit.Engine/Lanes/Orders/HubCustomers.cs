using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>The customers of the hub, and the addresses that each has.</summary>
internal sealed class HubCustomers
{
    private readonly Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> _addresses = new(StringComparer.Ordinal);
    private readonly List<KnownCustomer> _all = [];

    /// <summary>All of them.</summary>
    public IReadOnlyList<KnownCustomer> All => _all;

    /// <summary>The addresses of one, in the hub's fields; null: the hub keeps no list of them.</summary>
    public IReadOnlyList<IReadOnlyDictionary<string, string>>? AddressesOf(string customer) => _addresses.GetValueOrDefault(customer);

    /// <summary>Reads them.</summary>
    public static async Task<HubCustomers> ReadAsync(OpenLane lane, Database database, CancellationToken cancel)
    {
        var customers = new HubCustomers();
        if (lane.Target.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Customer)?.Fields is not { } fields)
            return customers;
        var list = lane.Document is OrderPolicy { AddsAddresses: true }
            ? fields.Children.FirstOrDefault(c => c.Role == ListRole.Addresses)
            : null;
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Target.System.Id, RecordKind.Customer, cancel))
        {
            customers._all.Add(Known(row, fields));
            if (list is not null)
                customers._addresses[row.Key] = RecordChildren.Read(row.Children)[list.Name];
        }

        return customers;
    }

    private static KnownCustomer Known(MirrorRow row, FieldSet fields)
    {
        var values = StoredRecord.Values(row.Values);
        return new KnownCustomer
        {
            Key = row.Key,
            Account = fields.Text(values, FieldRole.Account),
            Email = fields.Text(values, FieldRole.Email),
            Phone = fields.Text(values, FieldRole.Phone),
            Name = fields.Text(values, FieldRole.Title),
            Postcode = fields.Text(values, FieldRole.Postcode),
        };
    }
}
