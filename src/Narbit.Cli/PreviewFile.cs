using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Unicode;
using Narbit.Adapters.Files;
using Narbit.Engine.Lanes;

namespace Narbit.Cli;

/// <summary>Does a lane's work from files alone: what a run would change, field by field, with the reason.</summary>
public static class PreviewFile
{
    private const string Usage =
        "usage: narbit preview --lane lane.json --left a.csv --right b.csv --out changes.csv [--at 2026-11-25T09:00:00Z]";

    /// <summary>
    /// Runs a command line: 0 when the changes are written, 1 when a file cannot be used, 2 on wrong usage, 3 when a guard is tripped.
    /// </summary>
    public static int Run(string[] args)
    {
        var named = new Dictionary<string, string>(StringComparer.Ordinal);
        for (var i = 0; i + 1 < args.Length; i += 2)
            named[args[i]] = args[i + 1];
        if (
            args.Length % 2 != 0
            || named.Keys.Any(k => k is not ("--lane" or "--left" or "--right" or "--out" or "--at"))
            || !named.TryGetValue("--lane", out var lane)
            || !named.TryGetValue("--left", out var left)
            || !named.TryGetValue("--right", out var right)
            || !named.TryGetValue("--out", out var output)
        )
            return Say(2, Usage);
        if (new[] { lane, left, right }.Any(p => Path.GetFullPath(p) == Path.GetFullPath(output)))
            return Say(2, "narbit preview: --out is one of the files to be read; give the changes a file of their own");
        var at = TimeProvider.System.GetUtcNow();
        if (
            named.TryGetValue("--at", out var said)
            && !DateTimeOffset.TryParse(said, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out at)
        )
            return Say(2, $"narbit preview: --at “{said}” is no instant such as 2026-11-25T09:00:00Z");

        var started = Stopwatch.GetTimestamp();
        try
        {
            // The tables are fetched while the lane is being understood.
            var fetched = (Left: Task.Run(() => Fetch(left)), Right: Task.Run(() => Fetch(right)));
            if (LaneFiles.Read(File.ReadAllText(lane), out var faults) is not { } file)
            {
                foreach (var fault in faults)
                    Console.Error.WriteLine(
                        $"narbit preview: {Path.GetFileName(lane)}: {(fault.Path.Length == 0 ? "" : $"{fault.Path}: ")}{fault.Message}"
                    );
                return 1;
            }

            var tables = (
                Left: Task.Run(async () =>
                    (await fetched.Left ?? Converted(left, file.Source)).Indexed(Path.GetFileName(left), file.Source.Key)
                ),
                Right: Task.Run(async () =>
                    (await fetched.Right ?? Converted(right, file.Target)).Indexed(Path.GetFileName(right), file.Target.Key)
                )
            );
            if (tables.Left.Result.Fault is { } badLeft)
                return Say(1, $"narbit preview: {badLeft.Words}");
            if (tables.Right.Result.Fault is { } badRight)
                return Say(1, $"narbit preview: {badRight.Words}");
            var preview = new Preview(file, tables.Left.Result.Value, tables.Right.Result.Value, at);
            if (preview.Fault is { } unfit)
            {
                foreach (var fault in unfit)
                    Console.Error.WriteLine(
                        $"narbit preview: {Path.GetFileName(lane)}: {(fault.Path.Length == 0 ? "" : $"{fault.Path}: ")}{fault.Message}"
                    );
                return 1;
            }

            using (var stream = new FileStream(output, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16))
                preview.Write(stream);
            Console.Error.WriteLine(
                $"{preview.Compared:N0} compared: {preview.Changed:N0} change, {preview.New:N0} new, {preview.Gone:N0} gone, "
                    + $"{preview.Failed:N0} cannot be computed ({Stopwatch.GetElapsedTime(started).TotalSeconds:0.00} s)"
            );
            var tripped = preview.Tripped;
            foreach (var guard in tripped)
                Console.Error.WriteLine($"guard: {guard.Message}{(guard.Worst.Count > 0 ? $" ({string.Join("; ", guard.Worst)})" : "")}");
            return tripped.Count > 0 ? 3 : 0;
        }
        catch (Exception error)
            when (error
                    is IOException
                        or UnauthorizedAccessException
                        or AggregateException { InnerException: IOException or UnauthorizedAccessException }
            )
        {
            return Say(1, $"narbit preview: {(error as AggregateException)?.InnerException?.Message ?? error.Message}");
        }
    }

    // UTF-8 as it is; what is encoded otherwise is made UTF-8 first.
    private static CsvBytes? Fetch(string path)
    {
        if (Path.GetExtension(path).ToLowerInvariant() is not (".csv" or ".txt"))
            return null;
        var data = File.ReadAllBytes(path);
        var plain = Utf8.IsValid(data) && !data.AsSpan(0, Math.Min(data.Length, 4096)).Contains((byte)0);
        return CsvBytes.Read(plain ? data : Encoding.UTF8.GetBytes(TextEncoding.Of(data).GetString(data).TrimStart('\uFEFF')));
    }

    // XLSX and JSON Lines become what a CSV file would have been; the lane says which columns are read.
    private static CsvBytes Converted(string path, LaneFileSide side)
    {
        string[] columns = [.. side.Fields.Select(f => f.Name).Append(side.Key).Distinct(StringComparer.Ordinal)];
        var text = new StringBuilder().AppendJoin(',', columns.Select(Quoted)).Append('\n');
        foreach (var row in Table.Read(path, new TableShape([.. columns.Select(TableShape.Plain)], [TableShape.Plain(side.Key)])))
        {
            if (row.Fault is { } fault)
                throw new IOException(fault.Words);
            text.AppendJoin(',', row.Value.Cells.Select(Quoted)).Append('\n');
        }

        return CsvBytes.Read(Encoding.UTF8.GetBytes(text.ToString()));

        static string Quoted(string? c) =>
            c is null ? ""
            : c.AsSpan().IndexOfAny(",\"\r\n") >= 0 ? $"\"{c.Replace("\"", "\"\"", StringComparison.Ordinal)}\""
            : c;
    }

    private static int Say(int code, string message)
    {
        Console.Error.WriteLine(message);
        return code;
    }
}
