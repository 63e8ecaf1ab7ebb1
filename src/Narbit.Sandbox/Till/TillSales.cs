using System.Globalization;
using System.Text;
using Narbit.Sandbox.Orders;

namespace Narbit.Sandbox.Till;

/// <summary>
/// The sales of the till's last day, as a file that is written anew after each sale: a row for each line sold, and one for each that was
/// brought back, under the receipt that it was sold by. What is not closed yet is in it too.
/// </summary>
public sealed class TillSales : IDisposable
{
    private const string Columns =
        "Receipt;Opened;State;Kind;Line;Code;Article;Quantity;Price;Off;VAT;Paid;By;Total;VAT total;Register;Return;Back;Return total\r\n";

    private readonly StoreOrders _sales;
    private readonly OutFolder _out;

    public TillSales(StoreOrders sales, OutFolder @out)
    {
        _sales = sales;
        _out = @out;
        sales.Changed += Export;
        Export(null);
    }

    /// <summary>A receipt's number.</summary>
    public static string Receipt(int number) => $"T{number.ToString("D5", CultureInfo.InvariantCulture)}";

    /// <summary>Closes a sale that was left open.</summary>
    public static StoreOrder Closed(StoreOrder sale) =>
        sale with
        {
            State = sale.State == "open" ? "closed" : sale.State,
            PaymentState = "paid",
        };

    public void Dispose() => _sales.Changed -= Export;

    private void Export(StoreOrder? _) => _out.Write("sales", Text);

    private string Text()
    {
        var all = _sales.All;
        var day = all.Count == 0 ? default : all.Max(s => s.ChangedAt).UtcDateTime.Date;
        var text = new StringBuilder(Columns);
        foreach (var sale in all.Where(s => s.ChangedAt.UtcDateTime.Date == day))
        {
            foreach (var line in sale.Lines)
                text.Append(Row(sale, "sale", line, line.Quantity, null));
            foreach (var back in sale.Refunds)
            foreach (var line in back.Lines)
                text.Append(Row(sale, "return", sale.Lines.First(l => l.Id == line.Line), line.Quantity, back));
        }

        return text.ToString();
    }

    private static string Row(StoreOrder sale, string kind, OrderedLine line, int quantity, GivenBack? back) =>
        OutFolder.Line(
            sale.Number,
            sale.PlacedAt.UtcDateTime.ToString("dd.MM.yyyy HH:mm:ss", CultureInfo.InvariantCulture),
            sale.State,
            kind,
            line.Id,
            line.Sku,
            line.Title,
            quantity.ToString(CultureInfo.InvariantCulture),
            OutFolder.Amount(line.Price),
            OutFolder.Amount(line.Discount),
            (line.TaxRate ?? 0).ToString(CultureInfo.InvariantCulture),
            sale.PaymentState,
            sale.Method,
            OutFolder.Amount(sale.Total),
            OutFolder.Amount(sale.TaxTotal),
            sale.Register,
            back?.Id ?? "",
            back?.At.UtcDateTime.ToString("dd.MM.yyyy HH:mm:ss", CultureInfo.InvariantCulture) ?? "",
            back is null ? "" : OutFolder.Amount(back.Total)
        );
}
