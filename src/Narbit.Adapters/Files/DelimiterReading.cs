namespace Narbit.Adapters.Files;

/// <summary>What stands between the cells of a text: what most of its lines have, and as often as each other.</summary>
internal static class DelimiterReading
{
    private const int LinesLooked = 40;
    private static readonly char[] Candidates = [';', '\t', ',', '|'];

    /// <summary>The delimiter; a comma where there is none, as with one column.</summary>
    public static char Of(string text)
    {
        var lines = text.Split('\n').Take(LinesLooked).Where(l => l.Trim().Length > 0).ToList();
        return Candidates
            .Select(c => (Delimiter: c, Alike: Alike(lines, c)))
            .Where(c => c.Alike.Lines > 0)
            .OrderByDescending(c => c.Alike.Lines)
            .ThenByDescending(c => c.Alike.Times)
            .Select(c => c.Delimiter)
            .FirstOrDefault(',');
    }

    // In how many lines it stands as often as in most that have it.
    private static (int Lines, int Times) Alike(List<string> lines, char delimiter) =>
        lines
            .Select(l => Outside(l, delimiter))
            .Where(times => times > 0)
            .GroupBy(times => times)
            .Select(g => (Lines: g.Count(), Times: g.Key))
            .OrderByDescending(g => g.Lines)
            .ThenByDescending(g => g.Times)
            .FirstOrDefault();

    // How often it stands outside of quotation marks.
    private static int Outside(string line, char delimiter)
    {
        var (times, quoted) = (0, false);
        foreach (var c in line)
        {
            if (c == '"')
                quoted = !quoted;
            else if (c == delimiter && !quoted)
                times++;
        }

        return times;
    }
}
