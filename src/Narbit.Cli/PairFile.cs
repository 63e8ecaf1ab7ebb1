using System.Diagnostics;
using System.Globalization;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Pairing;

namespace Narbit.Cli;

/// <summary>Pairs two files of items: certain and likely pairs, candidates where it is ambiguous, and what has no partner.</summary>
public static class PairFile
{
    private static readonly TableShape Shape = new(
        ["key", "sku", "barcode", "part_number", "title", "option", "brand", "price", "group"],
        ["key"]
    );
    private static readonly string[] Columns = ["left_key", "right_key", "verdict", "confidence", "evidence"];

    /// <summary>Runs a command line: 0 when the pairs are written, 1 when a file cannot be used, 2 on wrong usage.</summary>
    public static int Run(string[] args)
    {
        var named = new Dictionary<string, string>(StringComparer.Ordinal);
        for (var i = 0; i + 1 < args.Length; i += 2)
            named[args[i]] = args[i + 1];
        if (
            args.Length != 6
            || !named.TryGetValue("--left", out var left)
            || !named.TryGetValue("--right", out var right)
            || !named.TryGetValue("--out", out var output)
        )
            return Say(2, "usage: narbit pair --left a.csv --right b.csv --out pairs.csv   (CSV, XLSX or JSON Lines by ending)");
        if (Path.GetExtension(output).ToLowerInvariant() is not (".csv" or ".xlsx" or ".jsonl" or ".ndjson"))
            return Say(2, $"narbit pair: {Path.GetFileName(output)} should end in .csv, .xlsx or .jsonl");
        if (new[] { left, right }.Any(p => Path.GetFullPath(p) == Path.GetFullPath(output)))
            return Say(2, "narbit pair: --out is one of the files to be read; give the pairs a file of their own");

        var started = Stopwatch.GetTimestamp();
        var lefts = Items(left);
        if (lefts.Fault is { } badLeft)
            return Say(1, $"narbit pair: {badLeft.Words}");
        var rights = Items(right);
        if (rights.Fault is { } badRight)
            return Say(1, $"narbit pair: {badRight.Words}");
        Console.Error.WriteLine($"read {lefts.Value.Count} and {rights.Value.Count} records ({Seconds(started)})");
        var findings = ItemPairing.Pair(lefts.Value, rights.Value, new SideNames(Path.GetFileName(left), Path.GetFileName(right)));
        Console.Error.WriteLine($"paired ({Seconds(started)})");
        try
        {
            using var stream = new FileStream(output, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
            TableOut.Write(stream, Path.GetExtension(output), Columns, findings.SelectMany(Lines));
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            return Say(1, $"narbit pair: {error.Message}");
        }

        int Count(Verdict verdict) => findings.Count(f => f.LeftKey is not null && f.Verdict == verdict);
        return Say(
            0,
            $"{Count(Verdict.Certain)} certain, {Count(Verdict.Likely)} likely, {Count(Verdict.Ambiguous)} ambiguous, "
                + $"{Count(Verdict.None)} none; {findings.Count(f => f.LeftKey is null)} on the right alone ({Seconds(started)})"
        );
    }

    private static Outcome<IReadOnlyList<ItemToPair>> Items(string path)
    {
        var items = new List<ItemToPair>();
        var lines = new Dictionary<string, int>(StringComparer.Ordinal);
        var name = Path.GetFileName(path);
        foreach (var row in Table.Read(path, Shape))
        {
            if (row.Fault is { } fault)
                return fault;
            var (line, cells) = (row.Value.Line, row.Value.Cells);
            if (cells[0] is not { } key)
                return new Reason("table.keyMissing", $"{name}: line {line} has no key.");
            if (!lines.TryAdd(key, line))
                return new Reason(
                    "table.keyTwice",
                    $"{name}: line {line} has the key {key}, which line {lines[key]} has already. Keys must be different."
                );
            decimal? price = null;
            if (cells[7] is { } text)
            {
                if (!decimal.TryParse(text, NumberStyles.Number, CultureInfo.InvariantCulture, out var amount))
                    return new Reason("table.badPrice", $"{name}: line {line}: the price “{text}” is no number such as 12.40.");
                price = amount;
            }

            items.Add(
                new ItemToPair
                {
                    Key = key,
                    Sku = cells[1],
                    Barcode = cells[2],
                    PartNumber = cells[3],
                    Title = cells[4],
                    Option = cells[5],
                    Brand = cells[6],
                    Price = price,
                    Group = cells[8],
                }
            );
        }

        return items;
    }

    private static IEnumerable<IReadOnlyList<string?>> Lines(PairFinding finding)
    {
        if (finding.Verdict != Verdict.Ambiguous)
        {
            yield return [finding.LeftKey, finding.RightKey, Word(finding.Verdict), Number(finding.Confidence), Words(finding.Evidence)];
            yield break;
        }

        foreach (var candidate in finding.Candidates)
            yield return
            [
                finding.LeftKey,
                candidate.Key,
                Word(finding.Verdict),
                Number(candidate.Confidence),
                Words([.. candidate.Evidence, .. finding.Evidence]),
            ];
    }

    private static string Word(Verdict verdict) => verdict.ToString().ToLowerInvariant();

    private static string Number(double confidence) => confidence.ToString("0.000", CultureInfo.InvariantCulture);

    private static string Words(IReadOnlyList<Evidence> evidence) => string.Join("; ", evidence.Select(e => e.Words));

    private static string Seconds(long started) =>
        $"{Stopwatch.GetElapsedTime(started).TotalSeconds.ToString("0.0", CultureInfo.InvariantCulture)} s";

    private static int Say(int code, string message)
    {
        Console.Error.WriteLine(message);
        return code;
    }
}
