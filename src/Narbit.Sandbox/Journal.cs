using System.Text.Json;

namespace Narbit.Sandbox;

/// <summary>Edits made to a stand-in since its data was generated, one JSON object a line, replayed at the next start.</summary>
internal sealed class Journal<T>(string? path) : IDisposable
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web);
    private StreamWriter? _writer;

    public IEnumerable<T> Replay()
    {
        if (path is null || !File.Exists(path))
            yield break;
        foreach (var line in File.ReadLines(path))
        {
            // A line cut off by a kill is the last one, and its edit was never answered.
            T? edit;
            try
            {
                edit = JsonSerializer.Deserialize<T>(line, Options);
            }
            catch (JsonException)
            {
                continue;
            }
            if (edit is not null)
                yield return edit;
        }
    }

    public void Add(T edit)
    {
        if (path is null)
            return;
        _writer ??= new StreamWriter(path, append: true) { AutoFlush = true };
        _writer.WriteLine(JsonSerializer.Serialize(edit, Options));
    }

    public void Dispose() => _writer?.Dispose();
}
