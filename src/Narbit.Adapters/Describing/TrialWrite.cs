using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>
/// Tries whether a system can be written as its description says, on one field of one record that a person chose: it is read, written, read
/// back, and put back as it was.
/// </summary>
/// <param name="adapter">The system.</param>
/// <param name="kind">The kind of the record.</param>
public sealed class TrialWrite(RestAdapter adapter, RecordKind kind)
{
    /// <summary>What would be sent; nothing is.</summary>
    /// <param name="key">The record.</param>
    /// <param name="field">The field.</param>
    /// <param name="value">Its new value, canonical; null empties it.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<TrialAnswer>> ShowAsync(string key, string field, string? value, CancellationToken cancel)
    {
        if (adapter.Kinds.FirstOrDefault(k => k.Kind == kind)?.Fields.Named(field) is not { Writable: true })
            return new Reason("trial.notWritable", $"The description does not say under which name “{field}” is written.");
        var held = await HeldAsync(key, field, cancel);
        return held.Fault is { } fault
            ? fault
            : new TrialAnswer(held.Value.Value, adapter.Shown(kind, Write(key, field, value, "trial")), []);
    }

    /// <summary>Writes it, reads it back, and puts it back.</summary>
    public async Task<Outcome<TrialAnswer>> TryAsync(string key, string field, string? value, CancellationToken cancel)
    {
        var shown = await ShowAsync(key, field, value, cancel);
        if (shown.Fault is { } fault)
            return fault;
        var steps = new List<TrialStep>();
        var written = await WriteAsync(key, field, value, "written", steps, cancel);
        // Whatever became of it, the record must be left as it was.
        if (written || !Same(await HeldAsync(key, field, cancel), shown.Value.Before))
            await WriteAsync(key, field, shown.Value.Before, "put back", steps, cancel);
        return shown.Value with { Steps = steps };
    }

    private async Task<bool> WriteAsync(
        string key,
        string field,
        string? value,
        string what,
        List<TrialStep> steps,
        CancellationToken cancel
    )
    {
        var answer = (await adapter.WriteAsync(kind, [Write(key, field, value, what)], cancel))[0];
        if (answer.Fate != WriteFate.Accepted)
        {
            steps.Add(new TrialStep(false, $"It was not {what}: {answer.Why?.Words ?? "no answer came"}"));
            return false;
        }

        var held = await HeldAsync(key, field, cancel);
        var arrived = Same(held, value);
        steps.Add(
            new TrialStep(
                arrived,
                held.Fault is { } unread ? $"It was {what}, but could not be read back: {unread.Words}"
                    : arrived ? $"{Said(value)} was {what}, and read back."
                    : $"{Said(value)} was {what}, but it holds {Said(held.Value.Value)}."
            )
        );
        return true;
    }

    private async Task<Outcome<Held>> HeldAsync(string key, string field, CancellationToken cancel)
    {
        var found = await adapter.LookUpAsync(kind, [key], cancel);
        if (found.Fault is { } fault)
            return fault;
        return found.Value.FirstOrDefault(r => r.Key == key) is { } record
            ? new Held(record.Values.GetValueOrDefault(field))
            : new Reason("trial.noRecord", $"There is no record {key} there.");
    }

    private static bool Same(Outcome<Held> held, string? value) => held.Fault is null && held.Value.Value == value;

    private static string Said(string? value) => value is null ? "nothing" : $"“{value}”";

    private static RecordWrite Write(string key, string field, string? value, string what) =>
        new(key, $"trial-{what}-{Guid.NewGuid():N}", new Dictionary<string, string?> { [field] = value });

    private readonly record struct Held(string? Value);
}
