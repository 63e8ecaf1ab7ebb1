using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Files;

/// <summary>
/// Talks to a system through two folders. What it writes is read from the file with the newest time in its name; files that are still
/// being written are left alone, those that were read go to the archive once what they hold is stored. What Narbit writes is dropped in
/// under another name first and renamed when it is complete. The folders are on this machine, where links that lead out of the system's
/// folder are not followed, or on a server that is reached by SFTP.
/// </summary>
public sealed class FileAdapter : IAdapter
{
    private const int PageSize = 1000;
    private const int MostSeen = 10_000;
    private const StringComparison Comparison = StringComparison.Ordinal;
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(50);
    private static readonly string[] Unfinished = [".part", ".tmp", ".filepart", "~"];

    private readonly FileDocument _document;
    private readonly IFolders _folders;
    private readonly TimeProvider _clock;
    private readonly Dictionary<RecordKind, FileResource> _resources;
    private readonly Lock _gate = new();
    private DateTimeOffset? _droppedAt;
    private int _drops;
    private readonly Dictionary<RecordKind, FilesRead> _read = [];
    private readonly Dictionary<RecordKind, FilesRead> _handedOut = [];
    private readonly Dictionary<PlacedFile, DateTimeOffset> _firstSeen = [];
    private readonly Dictionary<RecordKind, PlacedFile?> _archived = [];

    /// <summary>An adapter for a system.</summary>
    /// <param name="document">The description.</param>
    /// <param name="folder">The system's folder, already checked.</param>
    /// <param name="clock">The time.</param>
    public FileAdapter(FileDocument document, string folder, TimeProvider clock)
        : this(document, new LocalFolders(folder), clock) { }

    /// <summary>An adapter for a system whose folders are elsewhere.</summary>
    internal FileAdapter(FileDocument document, IFolders folders, TimeProvider clock)
    {
        _document = document;
        _folders = folders;
        _clock = clock;
        _resources = document.Resources.ToDictionary(r => r.Kind);
        Kinds =
        [
            .. document.Resources.Select(r => new OfferedKind(
                r.Kind,
                r.Label,
                new FieldSet(
                    [.. r.Fields.Select(f => f.Describe())],
                    [
                        .. r.Children.Select(c => new ChildList(
                            c.Name,
                            c.Label ?? c.Name,
                            new FieldSet([.. c.Fields.Select(f => f.Describe())]),
                            Role: c.Role
                        )),
                    ]
                ),
                r.Write?.BatchSize ?? 0
            )
            {
                Whole = r.Whole,
                Creates = r.Write?.NewKeysFrom is not null,
                NewKeysFrom = r.Write?.NewKeysFrom,
                // A look-up looks into what was read.
                LookedUpAtOnce = int.MaxValue,
                // A new record has its key from Narbit, and what is there under it is not dropped in again.
                HonoursKeys = true,
            }),
        ];
    }

    /// <inheritdoc/>
    public IReadOnlyList<OfferedKind> Kinds { get; }

    private string Out => _document.Out;

    private string Archive => _document.Archive;

    /// <inheritdoc/>
    public void Dispose() => _folders.Dispose();

    /// <inheritdoc/>
    public Task<TestAnswer> TestAsync(CancellationToken cancel) => Task.Run(Test, cancel);

    private TestAnswer Test()
    {
        var watch = Stopwatch.StartNew();
        try
        {
            return Tested(watch);
        }
        catch (FoldersException elsewhere)
        {
            return new TestAnswer(false, elsewhere.Reason.Words, (int)watch.ElapsedMilliseconds);
        }
    }

    private TestAnswer Tested(Stopwatch watch)
    {
        if (!_folders.Has(Out))
            return Failed(
                $"There is no folder “{_document.Out}” in “{_document.Address}”. Create it, or let {_document.Name} write there."
            );
        if (_document.In is { } drop && !_folders.Has(drop))
            return Failed($"There is no folder “{drop}” in “{_document.Address}” to drop files into.");
        if (Astray() is { } astray)
            return Failed(astray.Words);
        var found = new List<string>();
        foreach (var resource in _resources.Values)
        {
            var records = Snapshot(resource);
            if (records.Fault is { } fault)
                return Failed(fault.Words);
            var troubled = records.Value.Records.Count(r => r.Problems.Count > 0);
            if (records.Value.Unkept is [var first, ..])
                return Failed(Unkept(resource, records.Value, first));
            var count = $"{records.Value.Records.Count} in {records.Value.Newest.Name}";
            found.Add($"{resource.Label}: {count}{(troubled == 0 ? ", all as described" : $", {troubled} not as described")}");
        }

        return new TestAnswer(true, $"The folder is there. {string.Join(". ", found)}.", (int)watch.ElapsedMilliseconds);

        TestAnswer Failed(string words) => new(false, words, (int)watch.ElapsedMilliseconds);
    }

    private static string Unkept(FileResource resource, FilesRead read, UnkeptRecord first) =>
        $"{read.Unkept.Count} of {read.Unkept.Count + read.Records.Count} {resource.Label} in {read.Newest.Name} cannot be kept: "
        + $"{first.Words}. Choose another key, or have the file put right.";

    /// <summary>Makes the folders that are missing; null, or why they cannot be made.</summary>
    public Reason? MakeFolders()
    {
        try
        {
            foreach (var folder in new[] { Out, Archive, _document.In ?? Out })
                _folders.Make(folder);
            return Astray();
        }
        catch (FoldersException elsewhere)
        {
            return elsewhere.Reason;
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            return new Reason(
                "files.noFolder",
                $"The folders in “{_document.Address}” cannot be made: {error.Message.TrimEnd('.')}. Let Narbit write there."
            );
        }
    }

    /// <summary>Takes a file that somebody brings as one that the system has written.</summary>
    /// <param name="kind">Which records it holds.</param>
    /// <param name="name">What it is called; it is given the system's name for such files where it has another.</param>
    /// <param name="content">What it holds.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>What it is called now, or why it was not taken.</returns>
    public async Task<Outcome<string>> BringAsync(RecordKind kind, string name, Stream content, CancellationToken cancel)
    {
        if (_resources.GetValueOrDefault(kind) is not { } resource)
            return new Reason("files.unknownKind", $"{_document.Name} has no such list.");
        var (brought, described) = (Path.GetExtension(name), Path.GetExtension(resource.File));
        if (!string.Equals(brought, described, StringComparison.OrdinalIgnoreCase))
            return new Reason(
                "files.otherEnding",
                $"“{name}” ends in “{brought}”, but the {resource.Label} of {_document.Name} come as {described}. "
                    + "Save it as such, or describe the list anew."
            );
        if (MakeFolders() is { } fault)
            return fault;
        var file = resource.TimeOf(name) is null || !FolderPaths.IsPlainName(name) ? resource.NameAt(_clock.GetUtcNow()) : name;
        if (!resource.IsOneFile && new[] { Out, Archive }.SelectMany(_folders.Files).Any(f => f.Name == file))
            return new Reason("files.there", $"{_document.Name} has a file “{file}” already. Give this one another time in its name.");
        try
        {
            // One that is always called the same takes the place of the one before, which is kept in the archive.
            if (resource.IsOneFile && _folders.Files(Out).FirstOrDefault(f => f.Name == file) is { } before)
                _folders.Move(before, Archive);
            return await _folders.PutAsync(Out, file, content, cancel)
                ? file
                : new Reason("files.there", $"{_document.Name} has a file “{file}” already. Give this one another time in its name.");
        }
        catch (FoldersException elsewhere)
        {
            return elsewhere.Reason;
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            return new Reason("files.untaken", $"“{name}” could not be put into “{_document.Out}”: {error.Message}");
        }
    }

    /// <inheritdoc/>
    public bool ReadsChanges(RecordKind kind) => false;

    /// <inheritdoc/>
    public Task<string?> StampAsync(RecordKind kind, CancellationToken cancel) => Task.Run(() => Stamp(_resources[kind]), cancel);

    private string? Stamp(FileResource resource)
    {
        try
        {
            return ToRead(resource) is [.., var newest] files ? $"{newest.Written.Ticks}|{files.Count}|{newest.Name}" : null;
        }
        catch (FoldersException)
        {
            // A folder that cannot be reached now has no news.
            return null;
        }
    }

    /// <inheritdoc/>
    public Task<Outcome<RecordPage>> ReadPageAsync(
        RecordKind kind,
        string? cursor,
        DateTimeOffset? changedSince,
        CancellationToken cancel
    ) => Task.Run(() => Reached(() => ReadPage(kind, cursor)), cancel);

    // What becomes of a call whose folders cannot be reached.
    private static Outcome<T> Reached<T>(Func<Outcome<T>> call)
        where T : notnull
    {
        try
        {
            return call();
        }
        catch (FoldersException elsewhere)
        {
            return elsewhere.Reason;
        }
    }

    private Outcome<RecordPage> ReadPage(RecordKind kind, string? cursor)
    {
        var resource = _resources[kind];
        var snapshot = Snapshot(resource);
        if (snapshot.Fault is { } fault)
            return fault;
        var records = snapshot.Value.Records;
        var name = snapshot.Value.Newest.Name;
        var read = snapshot.Value.Mark;
        var from = cursor?.Split('|', 2) is [var at, var file] && file == read ? int.Parse(at, CultureInfo.InvariantCulture) : 0;
        // A newer file came while the older was read: the rest of the older is no longer of interest.
        if (cursor is not null && from == 0)
            return new Reason(
                FaultCodes.CursorStale,
                $"{_document.Name} wrote a newer file, {name}, while the one before was being read. Read it again."
            );
        IReadOnlyList<ReadRecord> page = [.. records.Skip(from).Take(PageSize)];
        var next = from + page.Count < records.Count ? $"{from + page.Count}|{read}" : null;
        // A look-up may read a newer file meanwhile, of which nothing was handed out.
        if (next is null)
            lock (_gate)
                _handedOut[kind] = snapshot.Value;
        return new RecordPage(page, next, page.Count, records.Count) { Unkept = from == 0 ? snapshot.Value.Unkept : [] };
    }

    /// <inheritdoc/>
    public Task StoredAsync(RecordKind kind, CancellationToken cancel) => Task.Run(() => PutAway(_resources[kind]), cancel);

    /// <inheritdoc/>
    public async Task<Outcome<IReadOnlyList<ReadRecord>>> LookUpAsync(
        RecordKind kind,
        IReadOnlyCollection<string> keys,
        CancellationToken cancel
    )
    {
        var resource = _resources[kind];
        if (await AnsweredAsync(resource, cancel) is { } silent)
            return silent;
        var snapshot = Reached(() => Snapshot(resource));
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
        return writes is [{ Act: WriteAct.Create }, ..]
            ? await CreateAsync(resource, write, writes, cancel)
            : await DropAsync(resource, write, writes, cancel);
    }

    // What is there already, under its key or its SKU, was dropped in before Narbit was cut off.
    private async Task<IReadOnlyList<WriteAnswer>> CreateAsync(
        FileResource resource,
        FileWrite write,
        IReadOnlyList<RecordWrite> writes,
        CancellationToken cancel
    )
    {
        if (await TakenInAsync(resource, write, cancel) is { } waiting)
            return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Unknown, waiting))];
        var snapshot = Reached(() => Snapshot(resource));
        if (snapshot.Fault is { } fault)
            return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Unknown, fault))];
        var there = There(resource, snapshot.Value.Records, writes);
        var missing = writes.Where(w => !there.ContainsKey(w.Key)).ToList();
        var dropped =
            missing.Count == 0
                ? []
                : await DropAsync(resource, write, [.. missing.Select(w => w with { Key = w.GivenKey!, Act = WriteAct.Update })], cancel);
        var byKey = dropped.ToDictionary(a => a.Key, StringComparer.Ordinal);
        return
        [
            .. writes.Select(w =>
                there.TryGetValue(w.Key, out var key)
                    ? new WriteAnswer(w.Key, WriteFate.Accepted, NewKey: key)
                    : byKey[w.GivenKey!] with
                    {
                        Key = w.Key,
                        NewKey = w.GivenKey,
                    }
            ),
        ];
    }

    // By the writes' keys: the keys of the records that are there already.
    private static Dictionary<string, string> There(
        FileResource resource,
        IReadOnlyList<ReadRecord> records,
        IReadOnlyList<RecordWrite> writes
    )
    {
        var sku = resource.Fields.FirstOrDefault(f => f.Role == FieldRole.Sku)?.Name;
        var keys = records.Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        var bySku = records
            .Where(r => sku is not null && r.Values.ContainsKey(sku))
            .GroupBy(r => r.Values[sku!], StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First().Key, StringComparer.Ordinal);
        var there = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var write in writes)
        {
            if (keys.Contains(write.GivenKey!))
                there[write.Key] = write.GivenKey!;
            else if (sku is not null && write.Values.GetValueOrDefault(sku) is { } code && bySku.TryGetValue(code, out var key))
                there[write.Key] = key;
        }

        return there;
    }

    private async Task<IReadOnlyList<WriteAnswer>> DropAsync(
        FileResource resource,
        FileWrite write,
        IReadOnlyList<RecordWrite> writes,
        CancellationToken cancel
    )
    {
        var text = Lines(resource, write, writes, out var unwritable);
        var droppedBefore = _droppedAt;
        try
        {
            if (Astray() is { } astray)
                return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Refused, astray))];
            if (unwritable.Count < writes.Count)
            {
                _droppedAt = _clock.GetUtcNow();
                _droppedAt = await DropAsync(resource, write, TextEncoding.Named(write.Encoding).GetBytes(text), cancel);
            }
        }
        catch (FoldersException elsewhere)
        {
            // Nobody is waited for to answer what was not dropped in.
            if (!elsewhere.MayHaveActed)
                _droppedAt = droppedBefore;
            return
            [
                .. writes.Select(w => new WriteAnswer(
                    w.Key,
                    elsewhere.MayHaveActed ? WriteFate.Unknown : WriteFate.Refused,
                    elsewhere.Reason
                )),
            ];
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            _droppedAt = droppedBefore;
            var refused = new Reason("files.undropped", $"the file could not be dropped in: {error.Message}");
            return [.. writes.Select(w => new WriteAnswer(w.Key, WriteFate.Refused, refused))];
        }

        return [.. writes.Select(w => unwritable.GetValueOrDefault(w.Key) ?? new WriteAnswer(w.Key, WriteFate.Accepted))];
    }

    // Under a name that no file has or had, whoever dropped something in before; nothing that waits to be taken is written over.
    private async Task<DateTimeOffset> DropAsync(FileResource resource, FileWrite write, byte[] content, CancellationToken cancel)
    {
        var now = _clock.GetUtcNow();
        var time = now.UtcDateTime.ToString(resource.Time, CultureInfo.InvariantCulture);
        while (true)
        {
            var number = $"{now.Millisecond:D3}{Interlocked.Increment(ref _drops):D4}";
            var name = write.File.Replace(FileDocument.Time, $"{time}-{number}", StringComparison.Ordinal);
            using var stream = new MemoryStream(content);
            if (await _folders.PutAsync(_document.In!, name, stream, cancel))
                return DroppedAt(name) ?? now;
        }
    }

    // By the clock of wherever the folders are, which is the one that its own files are dated by.
    private DateTimeOffset? DroppedAt(string name) =>
        _folders.Files(_document.In!).FirstOrDefault(f => f.Name == name) is { } dropped
            ? new DateTimeOffset(DateTime.SpecifyKind(dropped.Written, DateTimeKind.Utc))
            : null;

    private static string Lines(
        FileResource resource,
        FileWrite write,
        IReadOnlyList<RecordWrite> writes,
        out IReadOnlyDictionary<string, WriteAnswer> unwritable
    )
    {
        var refused = new Dictionary<string, WriteAnswer>(StringComparer.Ordinal);
        unwritable = refused;
        var used = resource.Fields.Where(f => f.WriteAs is not null && writes.Any(w => w.Values.ContainsKey(f.Name))).ToList();
        var text = new StringBuilder();
        Line([write.Key, .. used.Select(f => f.WriteAs!)]);
        foreach (var one in writes)
        {
            try
            {
                Line([one.Key, .. used.Select(f => one.Values.GetValueOrDefault(f.Name) is { } value ? FieldText.Written(f, value) : "")]);
            }
            catch (Exception error) when (error is FormatException or OverflowException or DivideByZeroException)
            {
                var why = new Reason("write.unwritable", $"its amounts cannot be written: {error.Message.TrimEnd('.')}");
                refused[one.Key] = new WriteAnswer(one.Key, WriteFate.Refused, why);
            }
        }

        return text.ToString();

        void Line(IReadOnlyList<string> cells) =>
            text.AppendJoin(write.Delimiter, cells.Select(c => Quoted(c, write.Delimiter))).Append("\r\n");
    }

    // What was dropped in shows in the next file only.
    private async Task<Reason?> AnsweredAsync(FileResource resource, CancellationToken cancel)
    {
        var patience = _clock.GetUtcNow().AddSeconds(_document.AnswerSeconds);
        while (_droppedAt is { } dropped)
        {
            var looked = Reached(() => Outcome.Of(Newest(resource)));
            if (looked.Fault is { } unreached)
                return unreached;
            if (looked.Value.File is { } newest && newest.Written + _folders.Grain > dropped.UtcDateTime)
            {
                _droppedAt = null;
                break;
            }

            if (_clock.GetUtcNow() > patience)
                return new Reason(
                    "files.noAnswer",
                    $"{_document.Name} has written no new file since {dropped:HH:mm:ss} UTC, when something was dropped in. "
                        + "Nothing is lost: see whether it runs, then try the run again."
                );
            await Task.Delay(Look, _clock, cancel);
        }

        return null;
    }

    // New records are made only once everything that was dropped in before shows in what the system says it has.
    private async Task<Reason?> TakenInAsync(FileResource resource, FileWrite write, CancellationToken cancel)
    {
        var patience = _clock.GetUtcNow().AddSeconds(_document.AnswerSeconds);
        var around = write.File.Split(FileDocument.Time);
        while (true)
        {
            var waiting = Reached(() => Outcome.Of(_folders.Files(_document.In!)));
            if (waiting.Fault is { } unreached)
                return unreached;
            if (!waiting.Value.Any(f => f.Name.StartsWith(around[0], Comparison) && f.Name.EndsWith(around[^1], Comparison)))
                break;
            if (_clock.GetUtcNow() > patience)
                return new Reason(
                    "files.noAnswer",
                    $"{_document.Name} has not taken what was dropped in before, so that nothing new is created; see whether it runs."
                );
            await Task.Delay(Look, _clock, cancel);
        }

        return await AnsweredAsync(resource, cancel);
    }

    // A file for a program: quoted as RFC 4180 has it, and nothing added to what is in it.
    private static string Quoted(string cell, char delimiter) =>
        cell.Contains(delimiter, StringComparison.Ordinal) || cell.AsSpan().IndexOfAny('"', '\r', '\n') >= 0
            ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\""
            : cell;

    // A folder that was replaced by a link after the system was set up.
    private Reason? Astray()
    {
        string[] folders = [Out, Archive, .. _document.In is { } drop ? (string[])[drop] : []];
        return Array.Find(folders, _folders.LeadsAway) is { } astray
            ? new Reason("files.astray", $"“{astray}” is a link that leads out of “{_document.Address}” and is not followed.")
            : null;
    }

    // A file or none.
    private readonly record struct Looked(PlacedFile? File);

    // The newest complete file; one that was put away is remembered, since an archive grows for ever.
    private Looked Newest(FileResource resource) => new(Complete(resource, Out) is [.., var newest] ? newest : Archived(resource));

    private PlacedFile? Archived(FileResource resource)
    {
        lock (_gate)
        {
            if (!_archived.TryGetValue(resource.Kind, out var newest))
                _archived[resource.Kind] = newest = Complete(resource, Archive).LastOrDefault();
            return newest;
        }
    }

    // The complete files of a folder, the oldest first.
    private List<PlacedFile> Complete(FileResource resource, string folder) =>
        [
            .. _folders
                .Files(folder)
                .Select(file => (File: file, Time: IsFinished(file.Name) ? resource.TimeOf(file.Name) : null))
                .Where(f => f.Time is not null && (folder == Archive || IsSettled(f.File)))
                .OrderBy(f => f.Time)
                .ThenByDescending(f => f.File.Name, StringComparer.Ordinal)
                .Select(f => f.File),
        ];

    // A file is complete once it was left alone for a while: by its own time, or, where that clock is ahead, since it was first seen as it
    // is.
    private bool IsSettled(PlacedFile file)
    {
        var now = _clock.GetUtcNow();
        if (file.Written <= now.UtcDateTime.AddSeconds(-_document.SettleSeconds))
            return true;
        lock (_gate)
        {
            if (_firstSeen.Count > MostSeen)
                _firstSeen.Clear();
            if (!_firstSeen.TryGetValue(file, out var seen))
                _firstSeen[file] = seen = now;
            return seen <= now.AddSeconds(-_document.SettleSeconds);
        }
    }

    // What is to be read: the newest; of files that hold the latest only, all that were not put away yet. What is older than one that was
    // put away is read together with those after it, so that a record is as the newest has it.
    private List<PlacedFile> ToRead(FileResource resource)
    {
        var waiting = Complete(resource, Out);
        if (waiting.Count == 0)
            return Archived(resource) is { } known ? [known] : [];
        var archived = Archived(resource);
        var (oldest, newest) = (resource.TimeOf(waiting[0].Name), resource.TimeOf(waiting[^1].Name));
        if (resource.Whole)
            return archived is not null && resource.TimeOf(archived.Name) > newest ? [archived] : [waiting[^1]];
        if (archived is null || resource.TimeOf(archived.Name) <= oldest)
            return waiting;
        var later = Complete(resource, Archive).Where(f => resource.TimeOf(f.Name) > oldest);
        return [.. later.Concat(waiting).OrderBy(f => resource.TimeOf(f.Name)).ThenByDescending(f => f.Name, StringComparer.Ordinal)];
    }

    private static bool IsFinished(string name) => !Unfinished.Any(u => name.EndsWith(u, StringComparison.OrdinalIgnoreCase));

    private Outcome<FilesRead> Snapshot(FileResource resource)
    {
        lock (_gate)
        {
            if (Astray() is { } astray)
                return astray;
            var files = ToRead(resource);
            if (files.Count == 0)
                return new Reason(
                    "files.none",
                    $"{_document.Name} has no complete file {resource.File.Replace(FileDocument.Time, "…", StringComparison.Ordinal)} in "
                        + $"“{_document.Out}” yet. Files that changed in the last {_document.SettleSeconds:0.#} seconds, and those "
                        + "ending in .part or .tmp, are left alone."
                );
            if (_read.GetValueOrDefault(resource.Kind) is { } kept && kept.Files.SequenceEqual(files))
                return kept;
            var read = Parse(resource, files);
            if (read.Fault is { } fault)
                return fault;
            var before = resource.Whole
                ? Complete(resource, Out).Where(f => resource.TimeOf(f.Name) < resource.TimeOf(files[^1].Name))
                : [];
            return _read[resource.Kind] = read.Value with { Before = [.. before] };
        }
    }

    // A record that stands in several files is as the newest has it. Of several files one that cannot be read stops no other; it is left
    // where it is.
    private Outcome<FilesRead> Parse(FileResource resource, List<PlacedFile> files)
    {
        var records = new OrderedDictionary<string, ReadRecord>(StringComparer.Ordinal);
        var unkept = new List<UnkeptRecord>();
        var unreadable = new List<PlacedFile>();
        Reason? fault = null;
        foreach (var file in files)
        {
            var parsed = Parse(resource, file, unkept);
            if (parsed.Fault is { } broken)
            {
                fault ??= broken;
                unreadable.Add(file);
                unkept.Add(
                    new UnkeptRecord(UnkeptRecord.Unreadable, null, broken.Words.TrimEnd('.'), Encoding.UTF8.GetBytes($"\"{file.Name}\""))
                );
                continue;
            }

            foreach (var record in parsed.Value)
                records[record.Key] = record;
        }

        if (fault is null || unreadable.Count < files.Count)
            return new FilesRead(files, [.. records.Values]) { Unkept = unkept, Unreadable = unreadable };
        // Of what nothing new can be read the last that could still holds.
        return !resource.Whole && Archived(resource) is { } known && !files.Contains(known) ? Parse(resource, [known, .. files]) : fault;
    }

    private Outcome<IReadOnlyList<ReadRecord>> Parse(FileResource resource, PlacedFile file, List<UnkeptRecord> unkept)
    {
        var table = new FileColumns(resource);
        var rows = new OrderedDictionary<string, List<TableRow>>(StringComparer.Ordinal);
        var twice = new Dictionary<string, ReadOnlyMemory<byte>>(StringComparer.Ordinal);
        foreach (var row in Table.Read(_folders.Local(file), table.Shape))
        {
            if (row.Fault is { } fault)
                return fault with { Words = $"{_document.Name}: {fault.Words}" };
            var at = $"{file.Name}, line {row.Value.Line}";
            if (table.Key(row.Value.Cells) is not { } key)
                unkept.Add(new UnkeptRecord(UnkeptRecord.NoKey, null, $"{at} has no {resource.Key}", table.Raw([row.Value.Cells])));
            else if (!rows.TryGetValue(key, out var own))
                rows[key] = [row.Value];
            else if (resource.Children.Count > 0)
                own.Add(row.Value);
            else if (!own[0].Cells.SequenceEqual(row.Value.Cells))
                unkept.AddRange(Twice(resource, table, file, key, own[0], row.Value, twice.TryAdd(key, default)));
        }

        return rows.Where(r => !twice.ContainsKey(r.Key)).Select(r => table.Record(r.Key, [.. r.Value.Select(row => row.Cells)])).ToList();
    }

    // Both rows are shown beside each other; of three or more each further one beside the first.
    private static IEnumerable<UnkeptRecord> Twice(
        FileResource resource,
        FileColumns table,
        PlacedFile file,
        string key,
        TableRow first,
        TableRow second,
        bool withFirst
    )
    {
        var (one, other) = (table.Raw([first.Cells]), table.Raw([second.Cells]));
        var words = $"{file.Name}, line {second.Line} has the {resource.Key} {key}, which line {first.Line} has already";
        if (withFirst)
            yield return new UnkeptRecord(UnkeptRecord.KeyTwice, key, words, one) { Other = other };
        yield return new UnkeptRecord(UnkeptRecord.KeyTwice, key, words, other) { Other = one };
    }

    // What is stored goes to the archive, with what it has made obsolete; what came meanwhile was not read and stays.
    private void PutAway(FileResource resource)
    {
        lock (_gate)
        {
            if (!_handedOut.Remove(resource.Kind, out var read) || resource.IsOneFile)
                return;
            var moved = new Dictionary<PlacedFile, PlacedFile> { [read.Newest] = read.Newest };
            foreach (var file in Stored(resource, read))
                try
                {
                    moved[file] = _folders.Move(file, Archive);
                }
                catch (IOException)
                {
                    // Somebody has it open. It is put away the next time; that it was read is known by the mirror.
                }

            if (moved[read.Newest].Folder == Archive)
                _archived[resource.Kind] = moved[read.Newest];
            if (ReferenceEquals(_read.GetValueOrDefault(resource.Kind), read))
                _read[resource.Kind] = read with { Files = [.. read.Files.Select(f => moved.GetValueOrDefault(f, f))] };
        }
    }

    private List<PlacedFile> Stored(FileResource resource, FilesRead read)
    {
        var stored = read.Files.Where(f => f.Folder == Out && !read.Unreadable.Contains(f)).ToList();
        // A whole file makes those before it obsolete; they were there when it was read.
        return resource.Whole ? [.. read.Before, .. stored] : stored;
    }
}

/// <summary>What was read last of a resource.</summary>
/// <param name="Files">The files, the newest last; there is at least one.</param>
/// <param name="Records">What they hold.</param>
internal sealed record FilesRead(IReadOnlyList<PlacedFile> Files, IReadOnlyList<ReadRecord> Records)
{
    public PlacedFile Newest => Files[^1];

    /// <summary>Tells it from what else could have been read.</summary>
    public string Mark => $"{Newest.Written.Ticks}|{Files.Count}|{Newest.Name}";

    /// <summary>What they hold and cannot be kept.</summary>
    public IReadOnlyList<UnkeptRecord> Unkept { get; init; } = [];

    /// <summary>The files that cannot be read.</summary>
    public IReadOnlyList<PlacedFile> Unreadable { get; init; } = [];

    /// <summary>Older files that a whole one has made obsolete.</summary>
    public IReadOnlyList<PlacedFile> Before { get; init; } = [];
}

/// <summary>Where the columns of a resource stand in its tables, and how a row becomes a record.</summary>
internal sealed class FileColumns
{
    private readonly List<string> _columns;
    private readonly int _keyAt;
    private readonly int _parentAt;
    private readonly int _groupAt;
    private readonly List<PlacedField> _fields;
    private readonly List<PlacedList> _lists;

    public FileColumns(FileResource resource)
    {
        var inLists = resource.Children.SelectMany(c => c.Fields.Select(f => f.Column).Concat(c.Where.Keys).Append(c.Once));
        string?[] named = [.. resource.Fields.Select(f => f.Column), resource.Key, resource.Parent, resource.Group, .. inLists];
        _columns = [.. named.OfType<string>().Select(TableShape.Plain).Distinct(StringComparer.Ordinal)];
        string[] required = [resource.Key, .. resource.Fields.Where(f => f.Required).Select(f => f.Column).OfType<string>()];
        Shape = new TableShape(_columns, [.. required.Select(TableShape.Plain)]) { Form = resource.Form };
        _keyAt = At(resource.Key);
        _parentAt = At(resource.Parent);
        _groupAt = At(resource.Group);
        _fields = Placed(resource.Fields);
        _lists =
        [
            .. resource.Children.Select(c => new PlacedList(
                c,
                Placed(c.Fields),
                [.. c.Where.Select(w => (At(w.Key), w.Value))],
                At(c.Once)
            )),
        ];
    }

    public TableShape Shape { get; }

    public string? Key(IReadOnlyList<string?> cells) => cells[_keyAt];

    /// <summary>A record of the rows that have its key; there is at least one.</summary>
    public ReadRecord Record(string key, IReadOnlyList<IReadOnlyList<string?>> rows)
    {
        var problems = new List<FieldProblem>();
        var values = Values(_fields, rows[0], problems.Add);
        var lists = new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>>(StringComparer.Ordinal);
        foreach (var list in _lists)
            lists[list.Of.Name] = Entries(list, rows, problems);
        return new ReadRecord(key, Cell(rows[0], _parentAt), values, Raw(rows), problems)
        {
            Group = Cell(rows[0], _groupAt),
            Children = lists.Count == 0 ? RecordChildren.None : new RecordChildren(lists),
        };
    }

    private static List<IReadOnlyDictionary<string, string>> Entries(
        PlacedList list,
        IReadOnlyList<IReadOnlyList<string?>> rows,
        List<FieldProblem> problems
    )
    {
        var own = rows.Where(row => list.Where.All(w => string.Equals(row[w.At]?.Trim(), w.Is, StringComparison.OrdinalIgnoreCase)));
        if (list.OnceAt >= 0)
            own = own.DistinctBy(row => row[list.OnceAt], StringComparer.Ordinal);
        var entries = new List<IReadOnlyDictionary<string, string>>();
        foreach (var row in own)
        {
            var place = entries.Count;
            entries.Add(
                Values(
                    list.Fields,
                    row,
                    problem =>
                        problems.Add(
                            new FieldProblem(
                                $"{list.Of.Name}[{place}].{problem.Field}",
                                $"{list.Of.Label ?? list.Of.Name}, entry {place + 1}: {problem.Message}"
                            )
                        )
                )
            );
        }

        return entries;
    }

    private static Dictionary<string, string> Values(List<PlacedField> fields, IReadOnlyList<string?> cells, Action<FieldProblem> problem)
    {
        var values = new Dictionary<string, string>(fields.Count, StringComparer.Ordinal);
        foreach (var (field, at) in fields)
        {
            var text = (field.Always ?? cells[at])?.Trim();
            if (string.IsNullOrEmpty(text))
            {
                if (field.Required)
                    problem(new FieldProblem(field.Name, $"{field.Label ?? field.Name} is missing"));
            }
            else if (field.Always is not null)
            {
                values[field.Name] = text;
            }
            else if (FieldText.Canonical(field, text) is { } value)
            {
                values[field.Name] = value;
            }
            else
            {
                problem(new FieldProblem(field.Name, Unread(field, text)));
            }
        }

        return values;
    }

    // As the file has it: one row, or the list of them.
    public byte[] Raw(IReadOnlyList<IReadOnlyList<string?>> rows)
    {
        var named = rows.Select(cells => _columns.Zip(cells).Where(c => c.Second is not null).ToDictionary(c => c.First, c => c.Second))
            .ToList();
        return _lists.Count == 0
            ? JsonSerializer.SerializeToUtf8Bytes(named[0])
            : JsonSerializer.SerializeToUtf8Bytes(new { rows = named });
    }

    private static string Unread(FileField field, string text)
    {
        var wanted = field.Type switch
        {
            FieldType.Boolean => "true or false",
            FieldType.Instant => $"a date with time ({field.Format ?? "ISO 8601"})",
            FieldType.Date => $"a date ({field.Format ?? "ISO 8601"})",
            _ => "a number",
        };
        var shown = text.Length > 40 ? text[..39] + "…" : text;
        return $"{field.Label ?? field.Name} is the text “{shown}”, where {wanted} was expected";
    }

    private List<PlacedField> Placed(IReadOnlyList<FileField> fields) => [.. fields.Select(f => new PlacedField(f, At(f.Column)))];

    private int At(string? column) => column is null ? -1 : _columns.IndexOf(TableShape.Plain(column));

    private static string? Cell(IReadOnlyList<string?> cells, int at) => at < 0 ? null : cells[at];

    private readonly record struct PlacedField(FileField Field, int At);

    private sealed record PlacedList(FileChildren Of, List<PlacedField> Fields, IReadOnlyList<(int At, string Is)> Where, int OnceAt);
}
