using System.Diagnostics;
using System.Globalization;
using System.Text;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Files;

/// <summary>
/// Talks to a system through two folders. What it writes is read from the file with the newest time in its name; files that are still
/// being written are left alone,
/// those that were read go to the archive. What Narbit writes is dropped in under another name first and renamed when it is complete.
/// </summary>
public sealed class FileAdapter : IAdapter
{
    private const int PageSize = 1000;
    private static readonly string[] Unfinished = [".part", ".tmp", ".filepart", "~"];

    private readonly FileDocument _document;
    private readonly string _folder;
    private readonly TimeProvider _clock;
    private readonly Dictionary<RecordKind, FileResource> _resources;
    private readonly Lock _gate = new();
    private DateTimeOffset? _droppedAt;
    private int _drops;
    private (string Path, DateTime Written, IReadOnlyList<ReadRecord> Records)? _read;

    /// <summary>An adapter for a system.</summary>
    /// <param name="document">The description.</param>
    /// <param name="folder">The system's folder, already checked.</param>
    /// <param name="clock">The time.</param>
    public FileAdapter(FileDocument document, string folder, TimeProvider clock)
    {
        (_document, _folder, _clock) = (document, folder, clock);
        _resources = document.Resources.ToDictionary(r => r.Kind);
        Kinds =
        [
            .. document.Resources.Select(r => new OfferedKind(
                r.Kind,
                r.Label,
                new FieldSet([.. r.Fields.Select(f => f.Describe())]),
                r.Write?.BatchSize ?? 0,
                r.Write?.NewKeysFrom is not null
            )),
        ];
    }

    /// <inheritdoc/>
    public IReadOnlyList<OfferedKind> Kinds { get; }

    private string Out => Path.Combine(_folder, _document.Out);

    private string Archive => Path.Combine(_folder, _document.Archive);

    /// <inheritdoc/>
    public Task<TestAnswer> TestAsync(CancellationToken cancel) => Task.FromResult(Test());

    private TestAnswer Test()
    {
        var watch = Stopwatch.StartNew();
        if (!Directory.Exists(Out))
            return new TestAnswer(
                false,
                $"There is no folder “{_document.Out}” in “{_document.Address}”. Create it, or let {_document.Name} write there.",
                0
            );
        if (_document.In is { } drop && !Directory.Exists(Path.Combine(_folder, drop)))
            return new TestAnswer(false, $"There is no folder “{drop}” in “{_document.Address}” to drop files into.", 0);
        var found = new List<string>();
        foreach (var resource in _resources.Values)
        {
            var records = Snapshot(resource);
            if (records.Fault is { } fault)
                return new TestAnswer(false, fault.Message, (int)watch.ElapsedMilliseconds);
            var troubled = records.Value.Records.Count(r => r.Problems.Count > 0);
            found.Add(
                $"{resource.Label}: {records.Value.Records.Count} in "
                    + $"{Path.GetFileName(records.Value.Path)}{(troubled == 0 ? ", all as described" : $", {troubled} not as described")}"
            );
        }

        return new TestAnswer(true, $"The folder is there. {string.Join(". ", found)}.", (int)watch.ElapsedMilliseconds);
    }

    /// <inheritdoc/>
    public bool ReadsChanges(RecordKind kind) => false;

    /// <inheritdoc/>
    public Task<Outcome<RecordPage>> ReadPageAsync(
        RecordKind kind,
        string? cursor,
        DateTimeOffset? changedSince,
        CancellationToken cancel
    ) => Task.FromResult(ReadPage(kind, cursor));

    private Outcome<RecordPage> ReadPage(RecordKind kind, string? cursor)
    {
        var resource = _resources[kind];
        var snapshot = Snapshot(resource);
        if (snapshot.Fault is { } fault)
            return fault;
        var (path, records) = snapshot.Value;
        var name = Path.GetFileName(path);
        var from = cursor?.Split('|') is [var file, var at] && file == name ? int.Parse(at, CultureInfo.InvariantCulture) : 0;
        // A newer file came while the older was read: the rest of the older is no longer of interest.
        if (cursor is not null && from == 0)
            return new Fault(
                "files.newer",
                $"{_document.Name} wrote a newer file, {name}, while the one before was being read. Read it again."
            );
        IReadOnlyList<ReadRecord> page = [.. records.Skip(from).Take(PageSize)];
        var next = from + page.Count < records.Count ? $"{name}|{from + page.Count}" : null;
        if (next is null)
            PutAway(resource, path);
        return new RecordPage(page, next, page.Count, records.Count);
    }

    /// <inheritdoc/>
    public async Task<Outcome<IReadOnlyList<ReadRecord>>> LookUpAsync(
        RecordKind kind,
        IReadOnlyCollection<string> keys,
        CancellationToken cancel
    )
    {
        var resource = _resources[kind];
        var patience = _clock.GetUtcNow().AddSeconds(_document.AnswerSeconds);
        // What was dropped in shows in the next file only.
        while (_droppedAt is { } dropped)
        {
            if (Newest(resource) is { } newest && File.GetLastWriteTimeUtc(newest) > dropped.UtcDateTime)
            {
                _droppedAt = null;
                break;
            }

            if (_clock.GetUtcNow() > patience)
                return new Fault(
                    "files.noAnswer",
                    $"{_document.Name} has written no new file since {dropped:HH:mm:ss} UTC, when something was dropped in. "
                        + $"Nothing is lost: see whether it runs, then try the run again."
                );
            await Task.Delay(TimeSpan.FromMilliseconds(100), _clock, cancel);
        }

        var snapshot = Snapshot(resource);
        if (snapshot.Fault is { } fault)
            return fault;
        var wanted = keys.ToHashSet(StringComparer.Ordinal);
        return snapshot.Value.Records.Where(r => wanted.Contains(r.Key)).ToList();
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<WriteAnswer>> WriteAsync(RecordKind kind, IReadOnlyList<RecordWrite> writes, CancellationToken cancel)
    {
        var resource = _resources[kind];
        var write = resource.Write ?? throw new InvalidOperationException($"{resource.Label} of {_document.Name} cannot be written.");
        if (writes is [{ Act: WriteAct.Create }, ..])
        {
            var given = await GiveKeysAsync(resource, write, writes, cancel);
            if (given.Fault is { } fault)
                return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Refused, fault.Message))];
            // What is there already was dropped in before Narbit was cut off.
            var missing = writes.Where(w => !given.Value[w.Key].Found).ToList();
            var dropped =
                missing.Count == 0
                    ? []
                    : await WriteAsync(
                        kind,
                        [.. missing.Select(w => w with { Key = given.Value[w.Key].Key, Act = WriteAct.Update })],
                        cancel
                    );
            return
            [
                .. writes.Select(w =>
                    missing.IndexOf(w) is >= 0 and var at
                        ? dropped[at] with
                        {
                            Key = w.Key,
                            NewKey = given.Value[w.Key].Key,
                        }
                        : new WriteAnswer(w.Key, WriteFate.Accepted, null, given.Value[w.Key].Key)
                ),
            ];
        }

        var fields = resource.Fields.Where(f => f.WriteAs is not null).ToList();
        var used = fields.Where(f => writes.Any(w => w.Values.ContainsKey(f.Name))).ToList();
        var text = new StringBuilder();
        Line([write.Key, .. used.Select(f => f.WriteAs!)]);
        foreach (var one in writes)
            Line([
                one.Key,
                .. used.Select(f =>
                    one.Values.GetValueOrDefault(f.Name) is { } value ? FieldText.Written(f.Type, value, f.Factor, f.DecimalMark) : ""
                ),
            ]);

        var now = _clock.GetUtcNow();
        var time = now.UtcDateTime.ToString(resource.Time, CultureInfo.InvariantCulture);
        var path = Path.Combine(
            _folder,
            _document.In!,
            write.File.Replace("{time}", $"{time}-{Interlocked.Increment(ref _drops):D4}", StringComparison.Ordinal)
        );
        try
        {
            await File.WriteAllBytesAsync($"{path}.part", TextEncoding.Named(write.Encoding).GetBytes(text.ToString()), cancel);
            _droppedAt = now;
            File.Move($"{path}.part", path);
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Refused, $"the file could not be dropped in: {error.Message}"))];
        }

        return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Accepted, null))];

        void Line(IEnumerable<string> cells) =>
            text.AppendJoin(write.Delimiter, cells.Select(c => Quoted(c, write.Delimiter))).Append("\r\n");
    }

    // The next free numbers; a record with the same SKU is taken for the one that was to be created.
    private async Task<Outcome<Dictionary<string, (string Key, bool Found)>>> GiveKeysAsync(
        FileResource resource,
        FileWrite write,
        IReadOnlyList<RecordWrite> writes,
        CancellationToken cancel
    )
    {
        var patience = _clock.GetUtcNow().AddSeconds(_document.AnswerSeconds);
        var pattern = write.File.Replace("{time}", "*", StringComparison.Ordinal);
        while (Directory.EnumerateFiles(Path.Combine(_folder, _document.In!), pattern).Any())
        {
            if (_clock.GetUtcNow() > patience)
                return new Fault(
                    "files.noAnswer",
                    $"{_document.Name} has not taken what was dropped in before, so that nothing new is created; see whether it runs."
                );
            await Task.Delay(TimeSpan.FromMilliseconds(100), _clock, cancel);
        }

        if (_droppedAt is not null && (await LookUpAsync(resource.Kind, [], cancel)).Fault is { } silent)
            return silent;
        var snapshot = Snapshot(resource);
        if (snapshot.Fault is { } fault)
            return fault;
        var sku = resource.Fields.FirstOrDefault(f => f.Role == FieldRole.Sku)?.Name;
        var bySku = snapshot
            .Value.Records.Where(r => sku is not null && r.Values.ContainsKey(sku))
            .GroupBy(r => r.Values[sku!], StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First().Key, StringComparer.Ordinal);
        var next = Math.Max(
            write.NewKeysFrom!.Value,
            snapshot.Value.Records.Select(r => long.TryParse(r.Key, CultureInfo.InvariantCulture, out var n) ? n : 0).DefaultIfEmpty().Max()
                + 1
        );
        var given = new Dictionary<string, (string, bool)>(StringComparer.Ordinal);
        foreach (var one in writes)
            given[one.Key] =
                sku is not null && one.Values.GetValueOrDefault(sku) is { } code && bySku.TryGetValue(code, out var key)
                    ? (key, true)
                    : ((next++).ToString(CultureInfo.InvariantCulture), false);
        return given;
    }

    // A file for a program: quoted as RFC 4180 has it, and nothing added to what is in it.
    private static string Quoted(string cell, char delimiter) =>
        cell.Contains(delimiter, StringComparison.Ordinal) || cell.AsSpan().IndexOfAny('"', '\r', '\n') >= 0
            ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\""
            : cell;

    // The newest complete file, in the folder or, where nothing new came, in the archive.
    private string? Newest(FileResource resource)
    {
        var settled = _clock.GetUtcNow().UtcDateTime.AddSeconds(-_document.SettleSeconds);
        return new[] { Out, Archive }
            .Where(Directory.Exists)
            .SelectMany(Directory.EnumerateFiles)
            .Select(path =>
                (
                    Path: path,
                    Time: Unfinished.Any(u => path.EndsWith(u, StringComparison.OrdinalIgnoreCase))
                        ? null
                        : resource.TimeOf(Path.GetFileName(path))
                )
            )
            .Where(f => f.Time is not null && File.GetLastWriteTimeUtc(f.Path) <= settled)
            .OrderByDescending(f => f.Time)
            .ThenBy(f => f.Path, StringComparer.Ordinal)
            .Select(f => f.Path)
            .FirstOrDefault();
    }

    private Outcome<(string Path, IReadOnlyList<ReadRecord> Records)> Snapshot(FileResource resource)
    {
        lock (_gate)
        {
            if (Newest(resource) is not { } path)
                return new Fault(
                    "files.none",
                    $"{_document.Name} has no complete file {resource.File.Replace("{time}", "…", StringComparison.Ordinal)} in "
                        + $"“{_document.Out}” yet. Files that changed in the last {_document.SettleSeconds:0.#} seconds, and "
                        + $"those ending in .part or .tmp, are left alone."
                );
            var written = File.GetLastWriteTimeUtc(path);
            if (_read is { } kept && kept.Path == path && kept.Written == written)
                return (path, kept.Records);
            var records = Parse(resource, path);
            if (records.Fault is { } fault)
                return fault;
            _read = (path, written, records.Value);
            return (path, records.Value);
        }
    }

    private Outcome<IReadOnlyList<ReadRecord>> Parse(FileResource resource, string path)
    {
        var columns = resource
            .Fields.Select(f => f.Column)
            .Append(resource.Key)
            .Concat(resource.Parent is null ? [] : [resource.Parent])
            .Select(TableShape.Plain)
            .Distinct(StringComparer.Ordinal)
            .ToList();
        var shape = new TableShape(
            columns,
            [TableShape.Plain(resource.Key), .. resource.Fields.Where(f => f.Required).Select(f => TableShape.Plain(f.Column))]
        );
        var keyAt = columns.IndexOf(TableShape.Plain(resource.Key));
        var parentAt = resource.Parent is null ? -1 : columns.IndexOf(TableShape.Plain(resource.Parent));
        int[] fieldAt = [.. resource.Fields.Select(f => columns.IndexOf(TableShape.Plain(f.Column)))];
        var records = new List<ReadRecord>();
        var lines = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var row in Table.Read(path, shape))
        {
            if (row.Fault is { } fault)
                return new Fault(fault.Code, $"{_document.Name}: {fault.Message}");
            var (line, cells) = (row.Value.Line, row.Value.Cells);
            if (cells[keyAt] is not { } key)
                return new Fault("table.keyMissing", $"{_document.Name}: {Path.GetFileName(path)}: line {line} has no {resource.Key}.");
            if (!lines.TryAdd(key, line))
                return new Fault(
                    "table.keyTwice",
                    $"{_document.Name}: {Path.GetFileName(path)}: line {line} has the {resource.Key} {key}, which line "
                        + $"{lines[key]} has already."
                );
            records.Add(Record(resource, key, parentAt < 0 ? null : cells[parentAt], cells, fieldAt, columns));
        }

        return records;
    }

    private static ReadRecord Record(
        FileResource resource,
        string key,
        string? parent,
        IReadOnlyList<string?> cells,
        int[] fieldAt,
        List<string> columns
    )
    {
        var values = new Dictionary<string, string>(resource.Fields.Count, StringComparer.Ordinal);
        List<FieldProblem>? problems = null;
        for (var i = 0; i < resource.Fields.Count; i++)
        {
            var field = resource.Fields[i];
            var text = cells[fieldAt[i]]?.Trim();
            if (string.IsNullOrEmpty(text))
            {
                if (field.Required)
                    (problems ??= []).Add(new FieldProblem(field.Name, $"{field.Label ?? field.Name} is missing"));
            }
            else if (FieldText.Canonical(field.Type, text, field.Factor, field.DecimalMark) is { } value)
            {
                values[field.Name] = value;
            }
            else
            {
                (problems ??= []).Add(
                    new FieldProblem(
                        field.Name,
                        $"{field.Label ?? field.Name} is the text “{(text.Length > 40 ? text[..39] + "…" : text)}”, where a "
                            + $"number was expected"
                    )
                );
            }
        }

        var raw = System.Text.Json.JsonSerializer.SerializeToUtf8Bytes(
            columns.Zip(cells).Where(c => c.Second is not null).ToDictionary(c => c.First, c => c.Second)
        );
        return new ReadRecord(key, parent, values, raw, problems ?? (IReadOnlyList<FieldProblem>)[]);
    }

    // What was read, and what is older, goes to the archive.
    private void PutAway(FileResource resource, string path)
    {
        var time = resource.TimeOf(Path.GetFileName(path));
        if (!string.Equals(Path.GetDirectoryName(path), Out, StringComparison.Ordinal))
            return;
        Directory.CreateDirectory(Archive);
        foreach (var file in Directory.EnumerateFiles(Out))
        {
            if (resource.TimeOf(Path.GetFileName(file)) is not { } older || older > time)
                continue;
            try
            {
                var target = Path.Combine(Archive, Path.GetFileName(file));
                File.Move(file, target, overwrite: true);
                if (file == path && _read is { } kept)
                    _read = kept with { Path = target };
            }
            catch (IOException)
            {
                // Somebody has it open. It is put away the next time; that it was read is known by the mirror.
            }
        }
    }
}
