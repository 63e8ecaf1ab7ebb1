namespace Narbit.Sandbox.BackOffice;

/// <summary>A change made on the admin page: a price, or the stock at a location.</summary>
internal sealed record BackOfficeEdit(
    string Number,
    string? List,
    decimal? Amount,
    string? Location,
    int? OnHand,
    DateTimeOffset At,
    ArticleEdit? Amended = null,
    int? Reserved = null
);

/// <summary>What the back office knows. All access goes through its lock.</summary>
public sealed class BackOfficeState : IDisposable
{
    private readonly Lock _gate = new();
    private readonly List<Article> _articles;
    private readonly Dictionary<string, Article> _byNumber;
    private readonly Journal<BackOfficeEdit> _journal;
    private readonly TimeProvider _clock;
    private readonly Dictionary<string, string> _seenKeys = new(StringComparer.Ordinal);

    // A number that was given is not given again, even where its article has ended.
    private int _highest;

    public BackOfficeState(IReadOnlyList<Article> articles, string? journalPath, TimeProvider clock)
    {
        _articles = [.. articles.OrderBy(a => a.Number, StringComparer.Ordinal)];
        _byNumber = _articles.ToDictionary(a => a.Number, StringComparer.Ordinal);
        _highest = _articles.Count == 0 ? 10000 : Whole(_articles[^1].Number);
        _clock = clock;
        _journal = new Journal<BackOfficeEdit>(journalPath);
        foreach (var edit in _journal.Replay())
            Apply(edit);
    }

    /// <summary>The articles after a cursor, oldest number first, and whether there are more.</summary>
    public T Read<T>(string? after, int limit, DateTimeOffset? since, bool stock, Func<IReadOnlyList<Article>, string?, T> write)
    {
        lock (_gate)
        {
            var start = after is null ? 0 : FirstAfter(after);
            var page = new List<Article>(limit);
            string? next = null;
            for (var i = start; i < _articles.Count; i++)
            {
                var changed = stock ? _articles[i].StockChangedAt : _articles[i].ChangedAt;
                if (since is { } s && changed < s)
                    continue;
                if (page.Count == limit)
                {
                    next = page[^1].Number;
                    break;
                }

                page.Add(_articles[i]);
            }

            return write(page, next);
        }
    }

    public IReadOnlyList<Article> Search(string text, int most)
    {
        lock (_gate)
        {
            return
            [
                .. _articles
                    .Where(a =>
                        a.Name.Contains(text, StringComparison.OrdinalIgnoreCase)
                        || a.Sku.Contains(text, StringComparison.OrdinalIgnoreCase)
                    )
                    .Take(most),
            ];
        }
    }

    public Article? Find(string number)
    {
        lock (_gate)
            return _byNumber.GetValueOrDefault(number);
    }

    public bool Edit(string number, string? list, decimal? amount, string? location, int? onHand)
    {
        lock (_gate)
        {
            if (!_byNumber.ContainsKey(number))
                return false;
            var edit = new BackOfficeEdit(number, list, amount, location, onHand, _clock.GetUtcNow());
            Apply(edit);
            _journal.Add(edit);
            return true;
        }
    }

    /// <summary>Lays pieces of an article aside for an order, where they are first; a negative number gives them free again.</summary>
    public void Reserve(string number, int pieces)
    {
        lock (_gate)
        {
            if (!_byNumber.TryGetValue(number, out var article) || article.Stock.Count == 0)
                return;
            var location = article.Stock.OrderByDescending(s => s.Value.OnHand - s.Value.Allocated).First().Key;
            var edit = new BackOfficeEdit(number, null, null, location, null, _clock.GetUtcNow(), Reserved: pieces);
            Apply(edit);
            _journal.Add(edit);
        }
    }

    /// <summary>The articles with these numbers.</summary>
    public IReadOnlyList<Article> Read(IEnumerable<string> numbers)
    {
        lock (_gate)
            return [.. numbers.Where(_byNumber.ContainsKey).Select(n => _byNumber[n])];
    }

    /// <summary>Changes an article's particulars; a key seen before changes nothing.</summary>
    /// <returns>Why not, or null.</returns>
    public string? Amend(ArticleEdit amended)
    {
        lock (_gate)
        {
            if (amended.Key is { } key && _seenKeys.ContainsKey(key))
                return null;
            if (!_byNumber.ContainsKey(amended.Number))
                return $"There is no article {amended.Number}.";
            if (amended.Name is { } name && string.IsNullOrWhiteSpace(name))
                return "An article needs a name.";
            if (amended.WeightGrams is <= 0)
                return "A weight must be above 0.";
            if (amended.Prices?.Any(p => p.Value < 0) == true)
                return "A price cannot be negative.";
            var edit = new BackOfficeEdit(amended.Number, null, null, null, null, _clock.GetUtcNow(), amended);
            Apply(edit);
            _journal.Add(edit);
            return null;
        }
    }

    /// <summary>Makes an article within a group; a key seen before is answered with the number it got then.</summary>
    /// <returns>Its number, or why not.</returns>
    public (string? Number, string? Refusal) Create(ArticleEdit made)
    {
        lock (_gate)
        {
            if (made.Key is { } key && _seenKeys.TryGetValue(key, out var earlier))
                return (earlier, null);
            if (string.IsNullOrWhiteSpace(made.Name))
                return (null, "An article needs a name.");
            if (made.TaxCode is not ("S" or "R" or "Z"))
                return (null, $"“{made.TaxCode}” is no tax code; there are S, R and Z.");
            if (!string.IsNullOrEmpty(made.Sku) && _articles.Exists(a => a.Sku == made.Sku))
                return (null, $"There is an article with the SKU {made.Sku} already.");
            var number = (_highest + 1).ToString(System.Globalization.CultureInfo.InvariantCulture);
            var edit = new BackOfficeEdit(
                number,
                null,
                null,
                null,
                null,
                _clock.GetUtcNow(),
                made with
                {
                    Number = number,
                    NewIn = made.NewIn ?? number,
                }
            );
            Apply(edit);
            _journal.Add(edit);
            return (number, null);
        }
    }

    public void Dispose() => _journal.Dispose();

    private int FirstAfter(string number)
    {
        var (low, high) = (0, _articles.Count);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (string.CompareOrdinal(_articles[middle].Number, number) <= 0)
                low = middle + 1;
            else
                high = middle;
        }

        return low;
    }

    private void Apply(BackOfficeEdit edit)
    {
        if (edit.Amended is { NewIn: { } group } && !_byNumber.ContainsKey(edit.Number))
        {
            var fresh = new Article
            {
                Number = edit.Number,
                GroupCode = group,
                Sku = "",
                Name = "",
                Barcode = "",
                TaxCode = "",
            };
            _articles.Add(fresh);
            _byNumber[fresh.Number] = fresh;
            _highest = Math.Max(_highest, Whole(fresh.Number));
        }

        if (!_byNumber.TryGetValue(edit.Number, out var article))
            return;
        if (edit.List is { } list)
            Price(article, list, edit.Amount);
        if (edit.Amended is { Ended: true } ended)
            End(article, ended);
        else if (edit.Amended is { } amended)
            Amend(article, amended);
        if (edit.List is not null || edit.Amended is not null)
            article.ChangedAt = edit.At;
        if (edit is { Location: { } shelf, Reserved: { } reserved })
        {
            var before = article.Stock.GetValueOrDefault(shelf, new Shelf(0, 0, 0));
            article.Stock[shelf] = before with { Allocated = Math.Max(0, before.Allocated + reserved) };
            article.StockChangedAt = edit.At;
        }

        if (edit is { Location: { } location, OnHand: { } onHand })
        {
            article.Stock[location] = article.Stock.GetValueOrDefault(location, new Shelf(0, 0, 0)) with { OnHand = onHand };
            article.StockChangedAt = edit.At;
        }
    }

    private void End(Article article, ArticleEdit ended)
    {
        _articles.Remove(article);
        _byNumber.Remove(article.Number);
        if (ended.Key is { } key)
            _seenKeys[key] = article.Number;
    }

    private void Amend(Article article, ArticleEdit amended)
    {
        article.Sku = amended.Sku ?? article.Sku;
        article.Barcode = amended.Barcode ?? article.Barcode;
        article.TaxCode = amended.TaxCode ?? article.TaxCode;
        article.WeightGrams = amended.WeightGrams ?? article.WeightGrams;
        article.Picture = amended.Picture ?? article.Picture;
        article.Name = amended.Name ?? article.Name;
        article.Active = amended.Active ?? article.Active;
        article.Option = amended.Option ?? article.Option;
        article.Category = amended.Category ?? article.Category;
        foreach (var (list, amount) in amended.Prices ?? new Dictionary<string, decimal>())
            Price(article, list, amount);
        if (amended.Key is { } key)
            _seenKeys[key] = article.Number;
    }

    private static int Whole(string number) => int.Parse(number, System.Globalization.CultureInfo.InvariantCulture);

    private static void Price(Article article, string list, decimal? amount)
    {
        switch (list)
        {
            case "Studio":
                article.Studio = amount;
                break;
            case "School":
                article.School = amount;
                break;
            case "Counter":
                article.Counter = amount;
                break;
        }
    }
}
