using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Customers;

/// <summary>Who bought something of a system: the accounts, mail addresses and telephone numbers that its orders name.</summary>
internal sealed class Buyers
{
    private static readonly FieldRole[] Keys = [FieldRole.Account, FieldRole.Email, FieldRole.Phone];

    private readonly HashSet<(FieldRole, string)> _named = [];
    private readonly FieldSet _customers;

    private Buyers(FieldSet customers) => _customers = customers;

    /// <summary>Reads the orders of a system.</summary>
    public static async Task<Buyers> OfAsync(Connection system, Database database, CancellationToken cancel)
    {
        var kinds = system.Adapter.Kinds;
        var buyers = new Buyers(kinds.First(k => k.Kind == RecordKind.Customer).Fields);
        if (kinds.FirstOrDefault(k => k.Kind == RecordKind.Order)?.Fields is not { } orders)
            return buyers;
        await foreach (var row in new MirrorStore(database).RowsAsync(system.System.Id, RecordKind.Order, cancel))
        {
            var values = StoredRecord.Values(row.Values);
            foreach (var key in Keys)
                if (Form(key, orders.Text(values, key)) is { } form)
                    buyers._named.Add((key, form));
        }

        return buyers;
    }

    /// <summary>Whether a customer bought something.</summary>
    public bool Has(IReadOnlyDictionary<string, string> customer) =>
        Keys.Any(key => Form(key, _customers.Text(customer, key)) is { } form && _named.Contains((key, form)));

    // Mail addresses whatever their case, numbers by their digits.
    private static string? Form(FieldRole key, string? value)
    {
        var text = key == FieldRole.Phone ? new string([.. (value ?? "").Where(char.IsAsciiDigit)]) : value?.Trim().ToLowerInvariant();
        return string.IsNullOrEmpty(text) ? null : text;
    }
}
