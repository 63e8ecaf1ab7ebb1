using System.Diagnostics;
using System.Globalization;
using Narbit.Adapters.Files;
using Narbit.Core.Pairing;
using Narbit.Core.Tests.Pairing;

namespace Narbit.Bench;

/// <summary>Writes a generated set of two sides with its truth, and scores what `narbit pair` made of it.</summary>
internal static class PairBench
{
    private static readonly string[] Columns = ["key", "sku", "barcode", "part_number", "title", "option", "brand", "price", "group"];

    public static void Write(int count, int seed, string folder)
    {
        Directory.CreateDirectory(folder);
        var set = PairSet.Make(count, seed);
        Side("left.csv", set.Left);
        Side("right.csv", set.Right);
        File.WriteAllLines(Path.Combine(folder, "truth.csv"), set.Truth.Select(t => $"{t.Key},{t.Value}"));

        void Side(string name, IReadOnlyList<ItemToPair> items)
        {
            using var stream = File.Create(Path.Combine(folder, name));
            TableOut.Write(
                stream,
                ".csv",
                Columns,
                items.Select(i =>
                    (IReadOnlyList<string?>)
                        [
                            i.Key,
                            i.Sku,
                            i.Barcode,
                            i.PartNumber,
                            i.Title,
                            i.Option,
                            i.Brand,
                            i.Price?.ToString(CultureInfo.InvariantCulture),
                            i.Group,
                        ]
                )
            );
        }
    }

    /// <summary>Runs the command and says how long it took and how much memory it had at its peak.</summary>
    public static async Task<int> RunAsync(string program, string folder)
    {
        string In(string name) => Path.Combine(folder, name);
        var started = Stopwatch.GetTimestamp();
        using var process = Process.Start(
            new ProcessStartInfo(
                "dotnet",
                [program, "pair", "--left", In("left.csv"), "--right", In("right.csv"), "--out", In("pairs.csv")]
            )
        )!;
        long peak = 0;
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(20));
        while (!process.HasExited && await timer.WaitForNextTickAsync())
        {
            try
            {
                process.Refresh();
                peak = Math.Max(peak, process.PeakWorkingSet64);
            }
            catch (InvalidOperationException)
            {
                // It ended just now; the peak before counts.
            }
        }

        Console.WriteLine($"time                     {Stopwatch.GetElapsedTime(started).TotalSeconds:0.0} s    (under 10)");
        Console.WriteLine($"memory at its peak       {peak / 1024.0 / 1024.0:0} MB   (under 1,024)");
        return process.ExitCode;
    }

    public static int Score(string folder)
    {
        var truth = File.ReadLines(Path.Combine(folder, "truth.csv"))
            .Select(l => l.Split(','))
            .ToDictionary(l => l[0], l => l[1], StringComparer.Ordinal);
        var found = new List<PairFinding>();
        foreach (
            var row in Table.Read(
                Path.Combine(folder, "pairs.csv"),
                new TableShape(["left_key", "right_key", "verdict"], ["left_key", "right_key", "verdict"])
            )
        )
        {
            if (row.Value.Cells is not [{ } left, { } right, ("certain" or "likely") and var verdict])
                continue;
            found.Add(new PairFinding(left, right, verdict == "certain" ? Verdict.Certain : Verdict.Likely, 1, [], []));
        }

        var (certain, all, likely) = new PairSet([], [], truth).Score(found);
        Console.WriteLine($"certain pairs right      {certain * 100:0.000} %   (at least 99.9)");
        Console.WriteLine($"true pairs found         {all * 100:0.00} %    (at least 97)");
        Console.WriteLine($"likely pairs right       {likely * 100:0.00} %");
        return certain >= 0.999 && all >= 0.97 ? 0 : 1;
    }
}
