using System.Globalization;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.BackOffice;

/// <summary>What was written in the book: one of the three, as it is then, with the key of the program that wrote it.</summary>
internal sealed record BookEntry(
    OfficeCustomer? Customer,
    OfficeDocument? Document,
    OfficeCredit? Credit,
    string? Key = null,
    string? Removed = null,
    OfficeReceipt? Receipt = null
);

/// <summary>The back office's customers, documents and credit notes. All access goes through its lock.</summary>
public sealed class SalesBook : IDisposable
{
    /// <summary>Whoever buys at the counter without a name.</summary>
    public const string Counter = "40001";

    private static readonly string[] PaymentTypes = ["card", "invoice", "cash", "transfer", "voucher", "account"];

    private readonly Lock _gate = new();
    private readonly Dictionary<string, OfficeCustomer> _customers = new(StringComparer.Ordinal);
    private readonly Dictionary<string, OfficeDocument> _documents = new(StringComparer.Ordinal);
    private readonly Dictionary<string, OfficeCredit> _credits = new(StringComparer.Ordinal);
    private readonly Dictionary<string, OfficeReceipt> _receipts = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _seenKeys = new(StringComparer.Ordinal);
    private readonly BackOfficeState _stock;
    private readonly Journal<BookEntry> _journal;
    private readonly TimeProvider _clock;

    // A number that was given is not given again, even where its document was taken out.
    private int _lastDocument = 70_000;

    public SalesBook(IReadOnlyList<Account> customers, BackOfficeState stock, string? journalPath, TimeProvider clock)
    {
        _stock = stock;
        _clock = clock;
        _customers[Counter] = new OfficeCustomer(Counter, "Counter sales", "", "", "", "", "");
        foreach (var c in customers)
            _customers[c.Number] = new OfficeCustomer(c.Number, c.Contact, c.Firm, c.Mail, c.Phone, c.Postcode, c.Town);
        _journal = new Journal<BookEntry>(journalPath);
        foreach (var entry in _journal.Replay())
            Put(entry);
    }

    public IReadOnlyList<OfficeCustomer> Customers
    {
        get
        {
            lock (_gate)
                return [.. _customers.Values];
        }
    }

    public IReadOnlyList<OfficeDocument> Documents
    {
        get
        {
            lock (_gate)
                return [.. _documents.Values];
        }
    }

    public IReadOnlyList<OfficeCredit> Credits
    {
        get
        {
            lock (_gate)
                return [.. _credits.Values];
        }
    }

    public IReadOnlyList<OfficeReceipt> Receipts
    {
        get
        {
            lock (_gate)
                return [.. _receipts.Values];
        }
    }

    public OfficeDocument? Document(string number)
    {
        lock (_gate)
            return _documents.GetValueOrDefault(number);
    }

    /// <summary>Takes a new customer; a key seen before is answered with the number it got then.</summary>
    public (string? Number, string? Refusal) Create(OfficeCustomer customer, string? key)
    {
        lock (_gate)
        {
            if (Seen(key) is { } earlier)
                return (earlier, null);
            if (customer.Name.Length == 0 && customer.Company.Length == 0 && customer.Email.Length == 0)
                return (null, "A customer needs a name, a company or a mail address.");
            if (customer.Name.Length > 200)
                return (null, "A name has at most 200 characters.");
            var made = customer with { Number = (40_100 + _customers.Count).ToString(CultureInfo.InvariantCulture) };
            Write(new BookEntry(made, null, null, key));
            return (made.Number, null);
        }
    }

    /// <summary>Takes a new document and lays its goods aside; a key seen before is answered with the number it got then.</summary>
    public (string? Number, string? Refusal) Create(OfficeDocument document, string? key)
    {
        lock (_gate)
        {
            if (Seen(key) is { } earlier)
                return (earlier, null);
            if (Refusal(document) is { } refusal)
                return (null, refusal);
            if (document.ExternalNumber == BreaksAt)
                throw new TimeoutException($"The books fail over {BreaksAt}.");
            var made = document with
            {
                Number = (_lastDocument + 1).ToString(CultureInfo.InvariantCulture),
                ChangedAt = _clock.GetUtcNow(),
            };
            Write(new BookEntry(null, made, null, key));
            foreach (var line in made.Lines.Where(l => l.Kind == "goods"))
                _stock.Reserve(line.Article, line.Quantity);
            return (made.Number, null);
        }
    }

    /// <summary>Takes a new credit note; a key seen before is answered with the number it got then.</summary>
    public (string? Number, string? Refusal) Create(OfficeCredit credit, string? key)
    {
        lock (_gate)
        {
            if (Seen(key) is { } earlier)
                return (earlier, null);
            if (!_documents.ContainsKey(credit.Document))
                return (null, $"There is no document {credit.Document}.");
            if (_credits.Values.FirstOrDefault(c => c.ExternalNumber == credit.ExternalNumber) is { } same)
                return (null, $"There is a credit note with the external number {credit.ExternalNumber}: {same.Number}.");
            if (credit.Lines.Count == 0)
                return (null, "A credit note needs lines.");
            var made = credit with
            {
                Number = (90_001 + _credits.Count).ToString(CultureInfo.InvariantCulture),
                ChangedAt = _clock.GetUtcNow(),
            };
            Write(new BookEntry(null, null, made, key));
            return (made.Number, null);
        }
    }

    /// <summary>Registers a payment of a document; a key seen before is answered with the number it got then.</summary>
    public (string? Number, string? Refusal) Create(OfficeReceipt receipt, string? key)
    {
        lock (_gate)
        {
            if (Seen(key) is { } earlier)
                return (earlier, null);
            if (!_documents.TryGetValue(receipt.Document, out var document))
                return (null, $"There is no document {receipt.Document}.");
            if (_receipts.Values.FirstOrDefault(r => r.ExternalNumber == receipt.ExternalNumber) is { } same)
                return (null, $"There is a payment with the external number {receipt.ExternalNumber}: {same.Number}.");
            if (!PaymentTypes.Contains(receipt.Type))
                return (null, $"There is no payment type “{receipt.Type}”; there are {string.Join(", ", PaymentTypes)}.");
            var made = receipt with { Number = (95_001 + _receipts.Count).ToString(CultureInfo.InvariantCulture) };
            Write(new BookEntry(null, null, null, key, null, made));
            var payments = document.Payments.Append(new OfficePayment(made.Type, made.Amount));
            Change(document.Number, d => d with { Payments = [.. payments] });
            return (made.Number, null);
        }
    }

    /// <summary>Changes a customer, and adds the addresses that it does not have yet.</summary>
    public string? Change(string number, Func<OfficeCustomer, OfficeCustomer> change, IReadOnlyList<PostAddress> addresses, string? key)
    {
        lock (_gate)
        {
            if (Seen(key) is not null)
                return null;
            if (!_customers.TryGetValue(number, out var customer))
                return $"There is no customer {number}.";
            var changed = change(customer);
            Write(new BookEntry(changed with { Addresses = [.. changed.Addresses.Union(addresses)] }, null, null, key));
            return null;
        }
    }

    /// <summary>Changes the lines or the address of a document that nothing was sent of yet; its goods are laid aside anew.</summary>
    public string? Revise(string number, IReadOnlyList<OfficeLine>? lines, PostAddress? shipTo, string? key = null)
    {
        lock (_gate)
        {
            if (Seen(key) is not null)
                return null;
            if (!_documents.TryGetValue(number, out var document))
                return $"There is no document {number}.";
            if (document.State != "open")
                return $"Document {number} is {document.State}; only an open one can be changed.";
            var revised = document with { Lines = lines ?? document.Lines, ShipTo = shipTo ?? document.ShipTo };
            if (Refusal(revised) is { } refusal)
                return refusal;
            foreach (var line in document.Lines.Where(l => l.Kind == "goods"))
                _stock.Reserve(line.Article, -line.Quantity);
            foreach (var line in revised.Lines.Where(l => l.Kind == "goods"))
                _stock.Reserve(line.Article, line.Quantity);
            return Change(number, _ => revised, key);
        }
    }

    /// <summary>One piece more of a line, at the same price.</summary>
    public string? More(string number, int line) =>
        Document(number) is not { } document ? $"There is no document {number}."
        : line < 0 || line >= document.Lines.Count ? "There is no such line."
        : Revise(number, [.. document.Lines.Select((l, i) => i == line ? Larger(l) : l)], null);

    private static OfficeLine Larger(OfficeLine line)
    {
        var net = Math.Round(line.Net * (line.Quantity + 1) / line.Quantity, 2, MidpointRounding.AwayFromZero);
        var tax = Math.Round(net * line.TaxRate / 100, 2, MidpointRounding.AwayFromZero);
        return line with { Quantity = line.Quantity + 1, Net = net, Tax = tax, Gross = net + tax };
    }

    /// <summary>Changes a document: its state, or what was sent of it.</summary>
    public string? Change(string number, Func<OfficeDocument, OfficeDocument> change, string? key = null)
    {
        lock (_gate)
        {
            if (Seen(key) is not null)
                return null;
            if (!_documents.TryGetValue(number, out var document))
                return $"There is no document {number}.";
            Write(new BookEntry(null, change(document) with { ChangedAt = _clock.GetUtcNow() }, null, key));
            return null;
        }
    }

    /// <summary>Sends all or a part of a document.</summary>
    public string? Ship(string number, bool all, string carrier, string tracking)
    {
        var at = _clock.GetUtcNow();
        return Change(
            number,
            d =>
                d with
                {
                    State = all ? "shipped" : "partShipped",
                    Parcels = [.. d.Parcels, new Parcel($"{d.Number}-{d.Parcels.Count + 1}", at, carrier, tracking)],
                }
        );
    }

    /// <summary>Takes a document out of the book that nothing was done with yet, and gives its goods free.</summary>
    public string? Remove(string number, string? key)
    {
        lock (_gate)
        {
            if (Seen(key) is not null || !_documents.TryGetValue(number, out var document))
                return null;
            if (document.State != "open")
                return $"Document {number} is {document.State}; only an open one can be taken out.";
            if (_credits.Values.Any(c => c.Document == number))
                return $"Document {number} has a credit note, so it stays.";
            foreach (var line in document.Lines.Where(l => l.Kind == "goods"))
                _stock.Reserve(line.Article, -line.Quantity);
            Write(new BookEntry(null, null, null, key, number));
            return null;
        }
    }

    /// <summary>Cancels a document that nothing was sent of, and gives its goods free.</summary>
    public string? Cancel(string number, string? key = null)
    {
        lock (_gate)
        {
            if (!_documents.TryGetValue(number, out var document))
                return $"There is no document {number}.";
            if (document.State == "cancelled")
                return null;
            if (document.State != "open")
                return $"Document {number} is {document.State}; only an open one can be cancelled.";
            foreach (var line in document.Lines.Where(l => l.Kind == "goods"))
                _stock.Reserve(line.Article, -line.Quantity);
            return Change(number, d => d with { State = "cancelled" }, key);
        }
    }

    public void Dispose() => _journal.Dispose();

    private string? Refusal(OfficeDocument document)
    {
        if (document.ExternalNumber.Length == 0)
            return "A document needs its external number.";
        if (
            KnowsNumbers
            && _documents.Values.FirstOrDefault(d => d.ExternalNumber == document.ExternalNumber && d.Number != document.Number) is { } same
        )
            return $"There is a document with the external number {document.ExternalNumber}: {same.Number}.";
        if (!_customers.ContainsKey(document.Customer))
            return $"There is no customer {document.Customer}.";
        if (document.Lines.Count == 0)
            return "A document needs lines.";
        if (document.Lines.FirstOrDefault(l => l.Kind == "goods" && _stock.Find(l.Article) is null) is { } unknown)
            return $"There is no article {unknown.Article}.";
        if (document.Lines.Any(l => l.Net + l.Tax != l.Gross))
            return "Net and tax of a line are not its gross.";
        if (document.Payments.FirstOrDefault(p => !PaymentTypes.Contains(p.Type)) is { } payment)
            return $"There is no payment type “{payment.Type}”; there are {string.Join(", ", PaymentTypes)}.";
        return null;
    }

    /// <summary>Whether a key that was seen before is answered with what it got then; otherwise everything is made anew.</summary>
    public bool HonoursKeys { get; set; } = true;

    /// <summary>The external number over which everything that comes with it fails; null: none.</summary>
    public string? BreaksAt { get; set; }

    /// <summary>Whether an external number that a document has already is refused; otherwise two documents may have one.</summary>
    public bool KnowsNumbers { get; set; } = true;

    private string? Seen(string? key) => HonoursKeys && key is not null && _seenKeys.TryGetValue(key, out var number) ? number : null;

    private void Write(BookEntry entry)
    {
        Put(entry);
        _journal.Add(entry);
    }

    private void Put(BookEntry entry)
    {
        if (entry.Customer is { } customer)
            _customers[customer.Number] = customer;
        if (entry.Document is { } document)
        {
            _documents[document.Number] = document;
            _lastDocument = Math.Max(_lastDocument, int.Parse(document.Number, CultureInfo.InvariantCulture));
        }

        if (entry.Removed is { } removed)
            _documents.Remove(removed);
        if (entry.Credit is { } credit)
            _credits[credit.Number] = credit;
        if (entry.Receipt is { } receipt)
            _receipts[receipt.Number] = receipt;
        if (entry.Key is { } key)
            _seenKeys[key] =
                entry.Customer?.Number ?? entry.Document?.Number ?? entry.Credit?.Number ?? entry.Receipt?.Number ?? entry.Removed!;
    }
}
