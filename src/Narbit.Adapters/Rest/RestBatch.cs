using System.Buffers;
using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>A request that writes several records: what is in it, and what the answer says of each.</summary>
/// <param name="system">The system's name.</param>
/// <param name="resource">The records.</param>
internal abstract class RestBatch(string system, ResourceReader resource)
{
    /// <summary>The most records in one request.</summary>
    public abstract int Size { get; }

    public abstract HttpMethod Method { get; }

    public abstract string Path { get; }

    /// <summary>Whether the system makes nothing twice of a request that arrives twice.</summary>
    public abstract bool RepeatsSafely { get; }

    /// <summary>The name of the list in the body.</summary>
    protected abstract string Records { get; }

    protected ResourceReader Resource { get; } = resource;

    protected string System { get; } = system;

    /// <summary>The body. What cannot be written of a record leaves it out and is its answer; the others go on.</summary>
    public ReadOnlyMemory<byte> Body(IReadOnlyList<RecordWrite> writes, out IReadOnlyDictionary<string, WriteAnswer> unwritable)
    {
        var refused = new Dictionary<string, WriteAnswer>(StringComparer.Ordinal);
        unwritable = refused;
        var body = new ArrayBufferWriter<byte>();
        using var json = new Utf8JsonWriter(body);
        json.WriteStartObject();
        json.WriteStartArray(Records);
        var one = new ArrayBufferWriter<byte>();
        foreach (var write in writes)
        {
            one.ResetWrittenCount();
            if (Unwritable(write, one) is { } why)
                refused[write.Key] = new WriteAnswer(write.Key, WriteFate.Refused, why);
            else
                json.WriteRawValue(one.WrittenSpan);
        }

        json.WriteEndArray();
        json.WriteEndObject();
        json.Flush();
        return body.WrittenMemory;
    }

    /// <summary>What became of each record where the whole request was answered with a fault.</summary>
    public virtual WriteFate FateOf(Reason fault) =>
        fault.Code is "timeout" or "broken" or "halfReply" or "unreachable" or "tooMany" ? WriteFate.Unknown : WriteFate.Refused;

    /// <summary>The answer for each record.</summary>
    public abstract IReadOnlyList<WriteAnswer> Answers(IReadOnlyList<RecordWrite> writes, JsonElement root);

    /// <summary>Writes one record's object, with its key, values and children.</summary>
    protected abstract void Write(Utf8JsonWriter json, RecordWrite write);

    protected void WriteContent(Utf8JsonWriter json, RecordWrite write)
    {
        foreach (var (field, value) in write.Values)
            Resource.Reader(field).Write(json, value);
        foreach (var list in write.Children.Lists)
            Resource.Child(list)?.Write(json, write.Children[list]);
    }

    protected static void WriteKey(Utf8JsonWriter json, string name, string key, bool numeric)
    {
        if (numeric)
            json.WriteNumber(name, long.Parse(key, CultureInfo.InvariantCulture));
        else
            json.WriteString(name, key);
    }

    protected static Dictionary<string, JsonElement> Results(string path, JsonAt by, JsonElement root)
    {
        var results = new Dictionary<string, JsonElement>(StringComparer.Ordinal);
        if (new JsonAt(path).In(root) is { ValueKind: JsonValueKind.Array } array)
            foreach (var result in array.EnumerateArray())
                if (by.TextIn(result) is { } key)
                    results[key] = result;
        return results;
    }

    protected WriteAnswer Silent(RecordWrite write) =>
        new(write.Key, WriteFate.Unknown, new Reason("write.noWord", $"{System} answered the batch, but said nothing of this record."));

    protected static WriteAnswer Refused(RecordWrite write, string words) =>
        new(write.Key, WriteFate.Refused, new Reason("write.refused", words));

    private Reason? Unwritable(RecordWrite write, ArrayBufferWriter<byte> body)
    {
        try
        {
            using var json = new Utf8JsonWriter(body);
            json.WriteStartObject();
            Write(json, write);
            json.WriteEndObject();
            json.Flush();
            return null;
        }
        catch (Exception error) when (error is FormatException or OverflowException or ArgumentException or DivideByZeroException)
        {
            return new Reason(
                "write.unwritable",
                $"{System} cannot be told of this record: {error.Message.TrimEnd('.')}. Look at its key and its amounts."
            );
        }
    }
}

/// <summary>Records that are changed or ended.</summary>
internal sealed class UpdateBatch(string system, ResourceReader resource) : RestBatch(system, resource)
{
    private readonly RestWrite _write =
        resource.Document.Write ?? throw new InvalidOperationException($"{resource.Document.Label} of {system} cannot be written.");

    public override int Size => _write.BatchSize;

    public override HttpMethod Method => new(_write.Method);

    public override string Path => _write.Path;

    public override bool RepeatsSafely => _write.IdempotencyKey is not null;

    protected override string Records => _write.Records;

    public override IReadOnlyList<WriteAnswer> Answers(IReadOnlyList<RecordWrite> writes, JsonElement root)
    {
        var (stateAt, messageAt) = (new JsonAt(_write.ResultState), new JsonAt(_write.ResultMessage));
        var results = Results(_write.Results, new JsonAt(_write.ResultKey), root);
        return [.. writes.Select(Answer)];

        WriteAnswer Answer(RecordWrite write) =>
            !results.TryGetValue(write.Key, out var result) ? Silent(write)
            : stateAt.TextIn(result) == _write.ResultOk ? new WriteAnswer(write.Key, WriteFate.Accepted)
            : Refused(write, messageAt.TextIn(result) ?? stateAt.TextIn(result) ?? "refused without a reason");
    }

    protected override void Write(Utf8JsonWriter json, RecordWrite write)
    {
        WriteKey(json, _write.Key, write.Key, _write.NumericKey);
        if (_write.IdempotencyKey is { } name)
            json.WriteString(name, write.IdempotencyKey);
        if (write.Act == WriteAct.End)
            json.WriteBoolean(
                _write.End ?? throw new InvalidOperationException($"{Resource.Document.Label} of {System} cannot be ended."),
                true
            );
        WriteContent(json, write);
    }
}

/// <summary>Records that are created, told apart by their idempotency keys.</summary>
internal sealed class CreateBatch(string system, ResourceReader resource) : RestBatch(system, resource)
{
    private readonly RestCreate _create =
        resource.Document.Create ?? throw new InvalidOperationException($"{resource.Document.Label} of {system} cannot be created.");

    public override int Size => _create.BatchSize;

    public override HttpMethod Method => new(_create.Method);

    public override string Path => _create.Path;

    public override bool RepeatsSafely => true;

    protected override string Records => _create.Records;

    // A system that failed over a creation may have made the record all the same; its key finds out.
    public override WriteFate FateOf(Reason fault) => fault.Code == FaultCodes.ServerError ? WriteFate.Unknown : base.FateOf(fault);

    public override IReadOnlyList<WriteAnswer> Answers(IReadOnlyList<RecordWrite> writes, JsonElement root)
    {
        var (keyAt, stateAt) = (new JsonAt(_create.ResultKey), new JsonAt(_create.ResultState));
        var messageAt = new JsonAt(_create.ResultMessage);
        var results = Results(_create.Results, new JsonAt(_create.ResultRequest), root);
        return [.. writes.Select(Answer)];

        WriteAnswer Answer(RecordWrite write)
        {
            if (!results.TryGetValue(write.IdempotencyKey, out var result))
                return Silent(write);
            return stateAt.TextIn(result) == _create.ResultOk && keyAt.TextIn(result) is { Length: > 0 } key
                ? new WriteAnswer(write.Key, WriteFate.Accepted, NewKey: key)
                : Refused(write, messageAt.TextIn(result) ?? $"{System} refused it without saying why.");
        }
    }

    protected override void Write(Utf8JsonWriter json, RecordWrite write)
    {
        json.WriteString(_create.IdempotencyKey, write.IdempotencyKey);
        if (_create.Parent is { } name && write.Parent is { } parent)
            WriteKey(json, name, parent, _create.NumericParent);
        if (_create.Group is { } group && write.Group is { } of)
            json.WriteString(group, of);
        WriteContent(json, write);
    }
}
