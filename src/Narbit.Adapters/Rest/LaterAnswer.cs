using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>What becomes of a change that a system only begins: it is asked until it is done, see <see cref="RestLater"/>.</summary>
/// <param name="document">The description.</param>
/// <param name="transport">Who asks.</param>
/// <param name="clock">The time, for waiting.</param>
internal sealed class LaterAnswer(RestDocument document, RestTransport transport, TimeProvider clock)
{
    /// <summary>The code of a change that was begun and is not known to be done.</summary>
    public const string NotDone = "write.notDone";

    private static readonly TimeSpan First = TimeSpan.FromMilliseconds(200);
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(5);

    /// <summary>The last answer of the operation that a reply names; the reply itself where it names none.</summary>
    public async Task<Outcome<RestReply>> OfAsync(RestLater? later, Outcome<RestReply> begun, CancellationToken cancel)
    {
        if (later is null || begun.Fault is not null)
            return begun;
        var path = PathOf(later, begun.Value);
        if (path.Fault is { } elsewhere)
        {
            begun.Value.Dispose();
            return elsewhere;
        }

        if (path.Value.Length == 0)
            return begun;
        var first = begun.Value.RetryAfter ?? First;
        begun.Value.Dispose();
        return await AskedAsync(later, path.Value, first, cancel);
    }

    private async Task<Outcome<RestReply>> AskedAsync(RestLater later, string path, TimeSpan wait, CancellationToken cancel)
    {
        var until = clock.GetUtcNow().AddSeconds(later.WithinSeconds);
        while (clock.GetUtcNow() + wait <= until)
        {
            await Task.Delay(wait, clock, cancel);
            var asked = await transport.SendAsync(
                new RestRequest
                {
                    Method = HttpMethod.Get,
                    Path = path,
                    Attempts = document.Limits.Attempts,
                    MayBeEmpty = true,
                    MayPointElsewhere = true,
                },
                cancel
            );
            if (asked.Fault is { } fault)
                return new Reason(NotDone, $"{document.Name} began it, and could not be asked how far it is. {fault.Words}");
            switch (Judged(later, asked.Value))
            {
                case Fate.Done:
                    return asked;
                case Fate.Failed:
                    using (asked.Value)
                        return new Reason(
                            FaultCodes.Rejected,
                            $"{document.Name} began it, and then failed: {transport.Said(asked.Value.Root)}."
                        );
            }

            wait = Min(asked.Value.RetryAfter ?? wait * 1.5, Longest);
            asked.Value.Dispose();
        }

        return new Reason(NotDone, $"{document.Name} began it, and was not done after {later.WithinSeconds:0.#} seconds.");
    }

    private static Fate Judged(RestLater later, RestReply answer)
    {
        const int accepted = 202,
            seeOther = 303;
        if (later.State is null || answer.Status == seeOther)
            return answer.Status == accepted ? Fate.AtWork : Fate.Done;
        var state = new JsonAt(later.State).TextIn(answer.Root) ?? "";
        return later.Done.Contains(state, StringComparer.Ordinal) ? Fate.Done
            : later.Failed.Contains(state, StringComparer.Ordinal) ? Fate.Failed
            : Fate.AtWork;
    }

    // Empty: the reply names no operation, so that it counts at once.
    private Outcome<string> PathOf(RestLater later, RestReply reply)
    {
        var name = later.At is null ? reply.Location : new JsonAt(later.At).TextIn(reply.Root);
        if (name is not { Length: > 0 } || (later.At is null && reply.Status != 202))
            return "";
        if (later.Path is { } path)
            return path.Replace("{key}", Uri.EscapeDataString(name), StringComparison.Ordinal);
        var address = new Uri(transport.Base, name);
        return address.AbsoluteUri.StartsWith(transport.Base.AbsoluteUri, StringComparison.Ordinal)
            ? address.AbsoluteUri[transport.Base.AbsoluteUri.Length..]
            : new Reason(
                NotDone,
                $"{document.Name} began it, and wants to be asked at {address.GetLeftPart(UriPartial.Path)}, "
                    + "which is not below its address."
            );
    }

    private static TimeSpan Min(TimeSpan one, TimeSpan other) => one < other ? one : other;

    private enum Fate
    {
        AtWork,
        Done,
        Failed,
    }
}
