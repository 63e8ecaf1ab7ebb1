namespace Narbit.Adapters.Rest;

/// <summary>An answer that counts until the system says otherwise.</summary>
/// <param name="Content">The content.</param>
/// <param name="Tag">Its entity tag, RFC 9110, section 8.8.3; null: it has none.</param>
/// <param name="Link">The Link headers, joined; null: there are none.</param>
internal sealed record KeptReply(byte[] Content, string? Tag, string? Link);

/// <summary>
/// The last answers with entity tags, by path: the system is asked whether they still count (RFC 9110, section 13.1.2), and need not send
/// again what did not change. Bounded; what was kept longest goes first.
/// </summary>
internal sealed class KeptReplies
{
    private const long MostBytes = 32 * 1024 * 1024;
    private readonly Lock _lock = new();
    private readonly Dictionary<string, LinkedListNode<(string Path, KeptReply Reply)>> _byPath = new(StringComparer.Ordinal);
    private readonly LinkedList<(string Path, KeptReply Reply)> _oldestFirst = new();
    private long _bytes;

    public KeptReply? Of(string path)
    {
        lock (_lock)
            return _byPath.TryGetValue(path, out var node) ? node.Value.Reply : null;
    }

    public string? TagOf(string path) => Of(path)?.Tag;

    /// <summary>Keeps an answer; one without a tag takes away what was kept.</summary>
    public void Keep(string path, KeptReply reply)
    {
        lock (_lock)
        {
            if (_byPath.TryGetValue(path, out var before))
                Forget(before);
            if (reply.Tag is null || reply.Content.Length > MostBytes / 4)
                return;
            _byPath[path] = _oldestFirst.AddLast((path, reply));
            _bytes += reply.Content.Length;
            while (_bytes > MostBytes)
                Forget(_oldestFirst.First!);
        }
    }

    private void Forget(LinkedListNode<(string Path, KeptReply Reply)> node)
    {
        _oldestFirst.Remove(node);
        _byPath.Remove(node.Value.Path);
        _bytes -= node.Value.Reply.Content.Length;
    }
}
