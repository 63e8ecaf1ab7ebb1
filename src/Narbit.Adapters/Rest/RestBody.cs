using System.Text.Json;
using System.Text.Json.Nodes;

namespace Narbit.Adapters.Rest;

/// <summary>What a call says: its parameters stand in the address, or, where it has a body, at places in that.</summary>
internal sealed class RestBody(RestCall call)
{
    private readonly List<string> _query = [];
    private readonly JsonObject? _body = call.Body is { } always ? JsonObject.Create(always.Clone()) : null;

    /// <summary>Sets a parameter; without a name nothing is said.</summary>
    public RestBody Say(string? name, string value)
    {
        if (name is null)
            return this;
        if (_body is null)
            _query.Add($"{Uri.EscapeDataString(name)}={Uri.EscapeDataString(value)}");
        else
            Put(_body, name, JsonValue.Create(value));
        return this;
    }

    /// <summary>The same for a number.</summary>
    public RestBody Say(string? name, int value)
    {
        if (name is not null && _body is not null)
            Put(_body, name, JsonValue.Create(value));
        else
            Say(name, value.ToString(System.Globalization.CultureInfo.InvariantCulture));
        return this;
    }

    /// <summary>The same for several: joined by commas in an address, a list in a body.</summary>
    public RestBody Say(string name, IReadOnlyCollection<string> values)
    {
        if (_body is null)
            _query.Add($"{Uri.EscapeDataString(name)}={string.Join(',', values.Select(Uri.EscapeDataString))}");
        else
            Put(_body, name, new JsonArray([.. values.Select(v => JsonValue.Create(v))]));
        return this;
    }

    /// <summary>The path with its query; <c>{key}</c> in it stands for a record's key.</summary>
    public string Path(string? key = null)
    {
        var path = (call.Path ?? "").Replace("{key}", Uri.EscapeDataString(key ?? ""), StringComparison.Ordinal);
        return _query.Count == 0 ? path : $"{path}{(path.Contains('?', StringComparison.Ordinal) ? '&' : '?')}{string.Join('&', _query)}";
    }

    /// <summary>The body; empty where the call has none.</summary>
    public ReadOnlyMemory<byte> Content() => _body is null ? default : JsonSerializer.SerializeToUtf8Bytes(_body);

    /// <summary>The body with a record at its place.</summary>
    /// <param name="call">The call.</param>
    /// <param name="record">The record, JSON.</param>
    public static ReadOnlyMemory<byte> Around(RestChange call, ReadOnlyMemory<byte> record)
    {
        if (call.Record is null && call.Body is null)
            return record;
        var body = call.Body is { } always ? JsonObject.Create(always.Clone())! : [];
        Put(body, call.Record ?? "record", JsonNode.Parse(record.Span));
        return JsonSerializer.SerializeToUtf8Bytes(body);
    }

    private static void Put(JsonObject body, string path, JsonNode? value)
    {
        var names = path.Split('.');
        var here = body;
        foreach (var name in names[..^1])
        {
            if (here[name] is not JsonObject next)
                here[name] = next = [];
            here = next;
        }

        here[names[^1]] = value;
    }
}
