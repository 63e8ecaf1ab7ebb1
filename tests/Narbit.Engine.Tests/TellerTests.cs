using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
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
            m => m.Tries.ShouldBe(Teller.MostTries),
            m => m.NextAt.ShouldBeNull(),
            m => m.SentAt.ShouldBeNull()
        );
        _door.Fault = null;
        await FoundAsync("run.guard", 2);
        (await _teller.TellAsync(default)).ShouldBe(1, "the next one is not held up by it");
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
}
