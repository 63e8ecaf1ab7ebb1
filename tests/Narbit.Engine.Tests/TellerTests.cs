using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Core.Telling;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Systems;
using Narbit.Data.Telling;
using Narbit.Engine.Telling;

namespace Narbit.Engine.Tests;

/// <summary>Who is told of what, when, and how often: by a moved clock and a door of the test's own.</summary>
public sealed class TellerTests : IAsyncLifetime
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-telling");
    private readonly FakeTimeProvider _clock = new(new DateTimeOffset(2026, 11, 24, 5, 0, 0, TimeSpan.Zero));
    private readonly Door _door = new();

    private Database _database = null!;
    private Teller _teller = null!;

    public async ValueTask InitializeAsync()
    {
        _database = new Database(Path.Combine(_folder.FullName, "narbit.db"));
        await File.WriteAllBytesAsync(_database.Path, await Workbench.EmptyDatabaseAsync());
        _teller = new Teller(_database, _door, new Workbench.OpenVault(), _clock);
        await using var db = _database.CreateDbContext();
        db.Workspaces.Add(
            new Workspace
            {
                Name = "Lanternmoor",
                TimeZone = "Europe/Dublin",
                Person = "Ines",
            }
        );
        db.Colleagues.AddRange(new Colleague { Name = "Ines", Mail = "ines@lanternmoor.example" }, new Colleague { Name = "Noor" });
        db.MailServers.Add(
            new MailServer
            {
                Host = "mail.lanternmoor.example",
                Port = 587,
                From = "narbit@lanternmoor.example",
                LinksTo = "http://narbit.example/",
                DailyAt = "07:00",
            }
        );
        await db.SaveChangesAsync();
        await _teller.TellAsync(default);
    }

    public ValueTask DisposeAsync()
    {
        Database.ForgetConnections();
        _folder.Delete(recursive: true);
        return ValueTask.CompletedTask;
    }

    [Fact]
    public async Task A_clock_that_is_set_back_silences_nobody()
    {
        await FoundAsync("run.guard", 3);
        (await _teller.TellAsync(default)).ShouldBe(1);
        _clock.AdjustTime(_clock.GetUtcNow() - TimeSpan.FromDays(3));
        await FoundAsync("system.silent", 1);
        (await _teller.TellAsync(default)).ShouldBe(1);
        _door.Sent.Count.ShouldBe(2);
        _door.Sent[1].Message.Text.ShouldContain("/mismatches?cause=system.silent");
    }

    [Fact]
    public async Task A_storm_is_one_message_and_a_system_that_flaps_is_told_of_once_in_the_quiet_time()
    {
        await FoundAsync("run.guard", 500);
        (await _teller.TellAsync(default)).ShouldBe(1);
        var mail = _door.Sent.Single();
        (mail.To, mail.Message.Subject).ShouldBe(("ines@lanternmoor.example", "Lanternmoor: a guard stopped the run (500)"));
        mail.Message.Text.ShouldContain("http://narbit.example/mismatches?cause=run.guard");

        for (var minute = 0; minute < 14; minute++)
        {
            await FoundAsync("system.silent", minute % 2);
            await _teller.TellAsync(default);
            _clock.Advance(TimeSpan.FromMinutes(1));
        }

        _door.Sent.Count.ShouldBe(1, "it is quiet for a while");
        await FoundAsync("system.silent", 1);
        _clock.Advance(TimeSpan.FromMinutes(2));
        await _teller.TellAsync(default);
        _door.Sent.Count.ShouldBe(2);
        _door.Sent[1].Message.Text.ShouldContain("1 × Does not answer (shop)");
        _clock.Advance(TimeSpan.FromHours(1));
        await _teller.TellAsync(default);
        _door.Sent.Count.ShouldBe(2, "nothing is new");
    }

    [Fact]
    public async Task A_day_is_summed_up_once_at_its_time_in_the_workspaces_zone()
    {
        await FoundAsync("ready.skuMissing", 3);
        await _teller.TellAsync(default);
        _clock.Advance(TimeSpan.FromMinutes(119));
        await _teller.TellAsync(default);
        _door.Sent.ShouldBeEmpty("it is 06:59 in Dublin");
        _clock.Advance(TimeSpan.FromMinutes(1));
        await _teller.TellAsync(default);
        await _teller.TellAsync(default);
        _door.Sent.Single().Message.Subject.ShouldBe("Lanternmoor: 3 open");
        _clock.Advance(TimeSpan.FromDays(1));
        await FoundAsync("ready.skuMissing", 0);
        await _teller.TellAsync(default);
        _door.Sent.Count.ShouldBe(1, "a quiet day needs no mail");
    }

    [Fact]
    public async Task Everybody_is_told_as_they_wish_and_nobody_by_name()
    {
        await using (var db = _database.CreateDbContext())
        {
            db.Wishes.Add(
                new Wish
                {
                    Person = "Ines",
                    Harm = Harm.Stopped,
                    When = WhenTold.Never,
                }
            );
            db.Wishes.Add(
                new Wish
                {
                    Person = "Ines",
                    Harm = Harm.Untidy,
                    When = WhenTold.AtOnce,
                }
            );
            await db.SaveChangesAsync();
        }

        await FoundAsync("run.guard", 2);
        await FoundAsync("ready.skuMissing", 2);
        await _teller.TellAsync(default);
        var mail = _door.Sent.Single().Message;
        mail.Text.ShouldContain("SKU missing");
        mail.Text.ShouldNotContain("guard");
        foreach (var text in new[] { mail.Subject, mail.Text, mail.Html })
        {
            text.ShouldNotContain("Oskar");
            text.ShouldNotContain("GLZ-");
        }
    }

    [Fact]
    public async Task A_mail_that_is_refused_is_kept_tried_again_ever_more_seldom_and_given_up_in_the_end()
    {
        _door.Fault = new Reason("mail.refused", "The mail server refused it: no.");
        await FoundAsync("run.guard", 1);
        await _teller.TellAsync(default);
        var first = await MailAsync();
        (first.Tries, first.Fault, first.NextAt).ShouldBe((1, "The mail server refused it: no.", _clock.GetUtcNow().AddMinutes(1)));
        await _teller.TellAsync(default);
        (await MailAsync()).Tries.ShouldBe(1, "it is not time yet");
        for (var n = 0; n < 20; n++)
        {
            _clock.Advance(TimeSpan.FromHours(4));
            await _teller.TellAsync(default);
        }

        (await MailAsync()).ShouldSatisfyAllConditions(
            m => m.Tries.ShouldBe(Retries.Most),
            m => m.NextAt.ShouldBeNull(),
            m => m.SentAt.ShouldBeNull()
        );
        _door.Fault = null;
        await FoundAsync("run.guard", 2);
        (await _teller.TellAsync(default)).ShouldBe(1, "the next one is not held up by it");
    }

    [Fact]
    public async Task A_cause_is_told_otherwise_than_the_others_that_do_the_same_harm()
    {
        await using (var db = _database.CreateDbContext())
        {
            db.Wishes.Add(
                new Wish
                {
                    Person = "Ines",
                    Harm = Harm.Stopped,
                    Cause = "job.missed",
                    When = WhenTold.Never,
                }
            );
            await db.SaveChangesAsync();
        }

        await FoundAsync("job.missed", 2);
        await FoundAsync("run.guard", 1);
        await _teller.TellAsync(default);
        var text = _door.Sent.Single().Message.Text;
        text.ShouldContain("A guard stopped the run");
        text.ShouldNotContain("Missed its time");
    }

    [Fact]
    public async Task Another_tool_is_told_once_a_storm_by_a_signed_webhook_that_names_nobody()
    {
        var hooks = new HookDoor();
        var announcer = new Announcer(_database, hooks, new Workbench.OpenVault(), new OutboundPolicy(AllowLoopback: false), _clock);
        (await announcer.AddAsync("", "https://tool.example/", false, "http://narbit.example", default)).Fault!.Code.ShouldBe(
            "listener.name"
        );
        foreach (var (address, code) in new[] { ("ftp://tool.example", "address.invalid"), ("http://127.0.0.1/", "address.forbidden") })
            (await announcer.AddAsync("Board", address, false, "http://narbit.example", default)).Fault!.Code.ShouldBe(code);
        var secret = (await announcer.AddAsync("Board", "https://board.example/hooks", true, "http://narbit.example", default)).Value;
        await FoundAsync("run.guard", 500);
        await FoundAsync("ready.skuMissing", 3);
        (await announcer.TellAsync(default)).ShouldBe(0, "it is quiet for a minute");
        _clock.Advance(TimeSpan.FromMinutes(1));
        (await announcer.TellAsync(default)).ShouldBe(1);
        var (to, hook) = hooks.Sent.Single();
        (to.AbsoluteUri, hook.Secret).ShouldBe(("https://board.example/hooks", secret));
        var told = JsonNode.Parse(hook.Body)!;
        var cause = told["causes"]!.AsArray().Single()!;
        (cause["cause"]!.GetValue<string>(), cause["harm"]!.GetValue<string>()).ShouldBe(("run.guard", "stopped"));
        (cause["count"]!.GetValue<int>(), cause["link"]!.GetValue<string>()).ShouldBe(
            (500, "http://narbit.example/mismatches?cause=run.guard")
        );
        hook.Body.ShouldNotContain("Oskar");
        hook.Body.ShouldNotContain("GLZ-");

        // What is not taken is sent again under the same name, and in the end no more.
        hooks.Fault = new Reason("hook.refused", "board.example answered 500.");
        _clock.Advance(TimeSpan.FromMinutes(2));
        await FoundAsync("run.guard", 501);
        (await announcer.TellAsync(default)).ShouldBe(0);
        for (var n = 0; n < 20; n++)
        {
            _clock.Advance(TimeSpan.FromHours(4));
            await announcer.TellAsync(default);
        }

        await using var db = _database.CreateDbContext();
        var given = await db.Deliveries.AsNoTracking().OrderByDescending(d => d.Id).FirstAsync();
        (given.Tries, given.NextAt, given.SentAt, given.Fault).ShouldBe((Retries.Most, null, null, "board.example answered 500."));
        hooks.Tried.Count(t => t == given.EventId).ShouldBe(Retries.Most);
        await announcer.RemoveAsync(given.ListenerId, default);
        (await announcer.TellAsync(default)).ShouldBe(0);
        (await announcer.TestAsync(given.ListenerId, default))!.Code.ShouldBe("listener.unknown");
    }

    private async Task<Mail> MailAsync()
    {
        await using var db = _database.CreateDbContext();
        return await db.Mails.AsNoTracking().OrderBy(m => m.Id).FirstAsync(m => !m.Subject.Contains("open"));
    }

    private async Task FoundAsync(string cause, int count)
    {
        _clock.Advance(TimeSpan.FromSeconds(1));
        var found = Enumerable
            .Range(0, count)
            .Select(i => new FoundMismatch
            {
                Cause = cause,
                SystemId = "shop",
                Kind = RecordKind.Item,
                Key = $"{i}",
                Reference = $"GLZ-{i}",
                Caption = "Oskar Larkmoor",
                Words = "the words of Oskar Larkmoor",
            });
        await new MismatchStore(_database, _clock).TakeInAsync($"test:{cause}", _clock.GetUtcNow(), found, default);
    }

    private sealed class Door : IMailDoor
    {
        public List<(string To, Message Message)> Sent { get; } = [];

        public Reason? Fault { get; set; }

        public Task<Reason?> SendAsync(MailServer server, string? password, string to, Message message, CancellationToken cancel)
        {
            if (Fault is null)
                Sent.Add((to, message));
            return Task.FromResult(Fault);
        }
    }

    private sealed class HookDoor : IHookDoor
    {
        public List<(Uri To, OutgoingHook Hook)> Sent { get; } = [];

        public List<string> Tried { get; } = [];

        public Reason? Fault { get; set; }

        public Task<Reason?> SendAsync(Uri address, OutgoingHook hook, CancellationToken cancel)
        {
            Tried.Add(hook.EventId);
            if (Fault is null)
                Sent.Add((address, hook));
            return Task.FromResult(Fault);
        }
    }
}
