namespace Narbit.Core.Orders;

/// <summary>The hub's customers by what they are known by, so that an order need not look at all of them.</summary>
internal sealed class CustomerIndex(IReadOnlyList<KnownCustomer> customers)
{
    private const int ShortestPhone = 6;

    private readonly Dictionary<string, List<KnownCustomer>>?[] _by = new Dictionary<string, List<KnownCustomer>>?[
        Enum.GetValues<CustomerKey>().Length
    ];

    /// <summary>Whose index it is.</summary>
    public IReadOnlyList<KnownCustomer> Customers => customers;

    /// <summary>The customers with a key, as <see cref="Of"/> makes it.</summary>
    public IReadOnlyList<KnownCustomer> With(CustomerKey key, string wanted) =>
        (_by[(int)key] ??= Indexed(key)).GetValueOrDefault(wanted) ?? [];

    /// <summary>What is compared; empty where there is nothing to compare.</summary>
    public static string Of(CustomerKey key, string? account, string? email, string? phone, string? name, string? postcode) =>
        key switch
        {
            CustomerKey.Account => Lower(account),
            CustomerKey.Email => Lower(email),
            CustomerKey.Phone => Digits(phone),
            _ => NameAndPostcode(name, postcode),
        };

    private Dictionary<string, List<KnownCustomer>> Indexed(CustomerKey key)
    {
        var index = new Dictionary<string, List<KnownCustomer>>(StringComparer.Ordinal);
        foreach (var customer in customers)
        {
            var own = Of(key, customer.Account, customer.Email, customer.Phone, customer.Name, customer.Postcode);
            if (own.Length == 0)
                continue;
            if (!index.TryGetValue(own, out var same))
                index[own] = same = [];
            same.Add(customer);
        }

        return index;
    }

    private static string NameAndPostcode(string? name, string? postcode)
    {
        var words = string.Join(' ', (name ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).ToLowerInvariant();
        var code = OrderDestination.Postcode(postcode);
        return words.Length == 0 || code.Length == 0 ? "" : $"{words}\n{code}";
    }

    private static string Lower(string? text) => (text ?? "").Trim().ToLowerInvariant();

    private static string Digits(string? phone)
    {
        var digits = string.Concat((phone ?? "").Where(char.IsAsciiDigit)).TrimStart('0');
        return digits.Length < ShortestPhone ? "" : digits;
    }
}
