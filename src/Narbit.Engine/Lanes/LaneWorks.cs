namespace Narbit.Engine.Lanes;

/// <summary>The kinds of work that there are.</summary>
public static class LaneWorks
{
    /// <summary>All of them, in the order in which a person meets them.</summary>
    public static IReadOnlyList<LaneWork> All { get; private set; } =
    [
        new Items.ItemWork(),
        new Prices.PriceWork(),
        new Stock.StockWork(),
        new Orders.OrderWork(),
        new Customers.CustomerWork(),
        new Corrections.CorrectionWork(),
    ];

    /// <summary>
    /// Adds a kind of another assembly's. Called before the first lane is opened, as documents are told apart by all of them.
    /// </summary>
    public static void Add(LaneWork work) => All = [.. All, work];

    /// <summary>The kinds that flow from one system to another.</summary>
    public static IEnumerable<LaneWork> Between => All.Where(w => w.Pairs);

    /// <summary>The kind with a code.</summary>
    /// <exception cref="InvalidOperationException">There is none: the database is a newer version's.</exception>
    public static LaneWork Of(string kind) =>
        All.FirstOrDefault(w => w.Kind == kind) ?? throw new InvalidOperationException($"There is no kind of work “{kind}”.");

    /// <summary>The kind that a document belongs to.</summary>
    public static LaneWork Of(LaneDocument document) => All.First(w => w.Computing.DocumentType == document.GetType());

    /// <summary>Where a kind stands in <see cref="All"/>.</summary>
    public static int Place(string kind) => All.ToList().FindIndex(w => w.Kind == kind);
}
