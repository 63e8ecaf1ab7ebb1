using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Systems;

namespace Narbit.Engine.Workspaces;

/// <summary>Sets a workspace up, and changes what holds for all of it.</summary>
/// <param name="database">Where it is kept.</param>
public sealed class WorkspaceDesk(Database database)
{
    private const int LongestName = 80;
    private const int MostPeople = 200;

    /// <summary>What holds now; null: nothing is set up yet.</summary>
    public async Task<WorkspaceSettings?> GetAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Workspaces.AsNoTracking().FirstOrDefaultAsync(cancel) is not { } kept)
            return null;
        var people = await db.Colleagues.AsNoTracking().OrderBy(c => c.Name).Select(c => new Person(c.Name, c.Mail)).ToListAsync(cancel);
        // Before there was a list of people there was one.
        if (people.Count == 0)
            people.Add(new Person(kept.Person, null));
        return new WorkspaceSettings
        {
            Name = kept.Name,
            TimeZone = kept.TimeZone,
            Currency = kept.Currency,
            Numbers = kept.Numbers,
            Dates = kept.Dates,
            FirstDay = kept.FirstDay,
            Country = kept.Country,
            HubId = kept.HubId,
            Person = kept.Person,
            People = people,
        };
    }

    /// <summary>Keeps settings, or sets the workspace up with them.</summary>
    /// <returns>Why they cannot be kept; null: they are.</returns>
    public async Task<Reason?> SaveAsync(WorkspaceSettings settings, CancellationToken cancel)
    {
        var clean = Clean(settings);
        if (Fault(clean) is { } fault)
            return fault;
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (clean.HubId is { } hub && !await db.Systems.AnyAsync(s => s.Id == hub, cancel))
            return new Reason("workspace.invalid", $"There is no system “{hub}” that could be the hub.");
        var kept = await db.Workspaces.FirstOrDefaultAsync(cancel);
        if (kept is null)
            db.Workspaces.Add(
                kept = new Workspace
                {
                    Name = clean.Name,
                    TimeZone = clean.TimeZone,
                    Person = clean.Person,
                }
            );
        (kept.Name, kept.TimeZone, kept.Person) = (clean.Name, clean.TimeZone, clean.Person);
        (kept.Currency, kept.Country, kept.HubId) = (clean.Currency, clean.Country, clean.HubId);
        (kept.Numbers, kept.Dates, kept.FirstDay) = (clean.Numbers, clean.Dates, clean.FirstDay);
        db.Colleagues.RemoveRange(await db.Colleagues.ToListAsync(cancel));
        await db.SaveChangesAsync(cancel);
        db.Colleagues.AddRange(clean.People.Select(p => new Colleague { Name = p.Name, Mail = p.Mail }));
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return null;
    }

    /// <summary>What a change would mean, before it is kept: a sentence each; none where it means nothing to others.</summary>
    public async Task<IReadOnlyList<string>> EffectAsync(WorkspaceSettings settings, CancellationToken cancel)
    {
        if (await GetAsync(cancel) is not { } now)
            return [];
        var wanted = Clean(settings);
        await using var db = database.CreateDbContext();
        var effects = new List<string>();
        if (wanted.TimeZone != now.TimeZone)
            effects.Add(await ZoneAsync(db, now.TimeZone, wanted.TimeZone, cancel));
        if (wanted.Currency != now.Currency)
            effects.Add(await CurrencyAsync(db, wanted.Currency, cancel));
        if (wanted.HubId != now.HubId)
            effects.Add(await HubAsync(db, now.HubId, wanted.HubId, cancel));
        return effects;
    }

    private static async Task<string> ZoneAsync(NarbitContext db, string before, string after, CancellationToken cancel)
    {
        var timed = await db.Jobs.CountAsync(j => j.Timetable != null, cancel);
        var jobs = timed == 1 ? "1 job keeps its own zone" : $"{timed} jobs keep their own zones";
        return $"All times are told in {after} instead of {before}, and a day begins at midnight there; instants that are kept do not "
            + $"move, and {jobs}.";
    }

    private static async Task<string> CurrencyAsync(NarbitContext db, string? currency, CancellationToken cancel)
    {
        var others = await db.Systems.Where(s => s.Currency != currency).OrderBy(s => s.Name).Select(s => s.Name).ToListAsync(cancel);
        return others.Count == 0
            ? "Nothing is converted: every system has this currency already."
            : "Nothing is converted. Amounts stay in each system's own currency; another one than "
                + $"{currency ?? "none"} is that of {string.Join(", ", others)}.";
    }

    private static async Task<string> HubAsync(NarbitContext db, string? before, string? after, CancellationToken cancel)
    {
        var links = before is null
            ? 0
            : await db.Links.CountAsync(l => db.Couples.Any(c => c.Id == l.CoupleId && c.HubId == before), cancel);
        var names = await db.Systems.ToDictionaryAsync(s => s.Id, s => s.Name, cancel);
        string Named(string? id) => id is null ? "nothing" : names.GetValueOrDefault(id, id);
        return $"The others are paired with {Named(after)} from now on, and begin there with no pairs. The "
            + $"{links.ToString("N0", CultureInfo.InvariantCulture)} pairs with {Named(before)} are kept for the day when it is the hub "
            + "again. Lanes stay between the systems that they were made for.";
    }

    private static WorkspaceSettings Clean(WorkspaceSettings s) =>
        s with
        {
            Name = s.Name.Trim(),
            TimeZone = s.TimeZone.Trim(),
            Currency = Blank(s.Currency)?.ToUpperInvariant(),
            Country = Blank(s.Country)?.ToUpperInvariant(),
            HubId = Blank(s.HubId),
            Person = s.Person.Trim(),
            People = [.. s.People.Select(p => new Person(p.Name.Trim(), Blank(p.Mail)))],
        };

    private static string? Blank(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();

    /// <summary>What is wrong with settings; null: nothing.</summary>
    internal static Reason? Fault(WorkspaceSettings s)
    {
        static Reason Invalid(string words) => new("workspace.invalid", words);
        static bool Letters(string code, int count) => code.Length == count && code.All(char.IsAsciiLetterUpper);
        if (s.Name.Length is 0 or > LongestName)
            return Invalid($"Give the workspace a name of at most {LongestName} characters.");
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(s.TimeZone, out _))
            return Invalid($"“{s.TimeZone}” is no time zone that is known here; one is Europe/Dublin.");
        if (s.Currency is { } currency && !Letters(currency, 3))
            return Invalid($"“{currency}” is no currency; give its three letters, e.g. EUR.");
        if (s.Country is { } country && !Letters(country, 2))
            return Invalid($"“{country}” is no country; give its two letters, e.g. IE.");
        if (s.People.Count is 0 or > MostPeople || s.People.Any(p => p?.Name is not { Length: > 0 and <= LongestName }))
            return Invalid($"Name the people who work here, at most {MostPeople}, each with at most {LongestName} characters.");
        if (s.People.GroupBy(p => p.Name, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return Invalid($"Two people are called {twice.Key}; tell them apart.");
        if (s.People.FirstOrDefault(p => p.Mail is { } mail && !IsMail(mail)) is { } wrong)
            return Invalid($"“{wrong.Mail}” is no mail address.");
        return s.People.Any(p => p.Name == s.Person) ? null : Invalid($"{s.Person} is none of the people who work here.");
    }

    private static bool IsMail(string mail) => System.Net.Mail.MailAddress.TryCreate(mail, out var read) && read.Address == mail;
}
