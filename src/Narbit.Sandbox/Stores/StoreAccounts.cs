using System.Globalization;

namespace Narbit.Sandbox.Stores;

/// <summary>A change of an account by a program; what is null stays.</summary>
internal sealed record AccountEdit(string? Key, Account Account);

/// <summary>The accounts of the trade portal. All access goes through its lock; every change is kept in a journal.</summary>
public sealed class StoreAccounts : IDisposable
{
    private readonly Lock _gate = new();
    private readonly List<Account> _accounts;
    private readonly Dictionary<string, string> _seenKeys = new(StringComparer.Ordinal);
    private readonly IReadOnlyList<string> _groups;
    private readonly Journal<AccountEdit> _journal;

    /// <param name="accounts">Those that there are at first.</param>
    /// <param name="groups">The groups whose prices an account may have.</param>
    /// <param name="journalPath">Where changes are kept; null: nowhere.</param>
    public StoreAccounts(IReadOnlyList<Account> accounts, IReadOnlyList<string> groups, string? journalPath)
    {
        _accounts = [.. accounts];
        _groups = groups;
        _journal = new Journal<AccountEdit>(journalPath);
        foreach (var edit in _journal.Replay())
            Put(edit);
    }

    public IReadOnlyList<Account> All
    {
        get
        {
            lock (_gate)
                return [.. _accounts];
        }
    }

    /// <summary>Makes an account, or changes one; a key seen before changes nothing and is answered as it was then.</summary>
    /// <param name="key">The program's key.</param>
    /// <param name="id">The account; null: a new one.</param>
    /// <param name="change">What is changed.</param>
    public (string? Id, string? Refusal) Write(string? key, string? id, Func<Account, Account> change)
    {
        lock (_gate)
        {
            if (key is not null && _seenKeys.TryGetValue(key, out var earlier))
                return (earlier, null);
            var before = id is null ? New() : _accounts.Find(a => a.Id == id);
            if (before is null)
                return (null, $"There is no account {id}.");
            var account = change(before);
            if (Refusal(account) is { } refusal)
                return (null, refusal);
            var edit = new AccountEdit(key, account);
            Put(edit);
            _journal.Add(edit);
            return (account.Id, null);
        }
    }

    public void Dispose() => _journal.Dispose();

    private Account New()
    {
        var last = _accounts.Max(a => int.Parse(a.Id.AsSpan(2), CultureInfo.InvariantCulture));
        return new Account($"A-{Math.Max(last, 900) + 1}", "", "", "", "", "", "", "");
    }

    private string? Refusal(Account account) =>
        account.Mail.Length == 0 ? "An account needs a mail address."
        : account.Group.Length > 0 && !_groups.Contains(account.Group)
            ? $"There is no group “{account.Group}”; there are {string.Join(", ", _groups)}."
        : null;

    private void Put(AccountEdit edit)
    {
        var place = _accounts.FindIndex(a => a.Id == edit.Account.Id);
        if (place >= 0)
            _accounts[place] = edit.Account;
        else
            _accounts.Add(edit.Account);
        if (edit.Key is { } key)
            _seenKeys[key] = edit.Account.Id;
    }
}
