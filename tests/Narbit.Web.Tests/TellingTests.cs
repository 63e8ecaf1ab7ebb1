using System.Net;
using System.Xml.Linq;
using SmtpServer.Protocol;

namespace Narbit.Web.Tests;

/// <summary>People are told by mail: set up in the browser, and a guard's mail arrives.</summary>
public sealed class TellingTests
{
    [Fact]
    public async Task A_mail_server_is_set_tried_and_a_guards_mail_arrives()
    {
        await using var box = new MailBox();
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.UntilMismatchAsync("cause=pair.likely", rows => rows.Count > 0);
        using var browser = new Browser(narbit.Address);
        browser.Open("/settings");
        browser.Fill("Mail of person 1", "ines@lanternmoor.example");
        browser.Click("Save");
        browser.See("Saved.");
        browser.Click("Being told by mail");
        browser.See("ines@lanternmoor.example");
        browser.See("No mail was made yet");
        browser.Fill("Mail server", "mail.elsewhere of ours");
        browser.Fill("Mails come from", "narbit@lanternmoor.example");
        browser.Click("Save the mail server");
        browser.See("Say which mail server: its name alone");
        browser.Fill("Mail server", "127.0.0.1");
        browser.Fill("Port", $"{box.Port}");
        browser.Choose("Protected by", "nothing, on this machine");

        box.Answer = new SmtpResponse(SmtpReplyCode.MailboxUnavailable, "no such box");
        browser.Click("Send me a test");
        browser.See("refused it: no such box.");
        box.Answer = null;
        browser.Click("Send me a test");
        browser.See("The server has taken a mail to you.");
        box.Mails.TryDequeue(out var test).ShouldBeTrue();
        test!.Subject.ShouldBe("Narbit can send mails");
        browser.Click("Save the mail server");
        browser.See("The mail server is kept.");
        browser.Axe().ShouldBeEmpty();

        // Of stopped runs at once, of nothing else.
        var wishes = (await narbit.GetAsync("/api/telling"))["wishes"]!.AsArray().Select(w => w!["harm"]!.GetValue<string>());
        var wanted = wishes.Select(harm => new { harm, when = harm == "stopped" ? "atOnce" : "never" });
        (await narbit.SendAsync(HttpMethod.Put, "/api/telling/wishes", wanted)).EnsureSuccessStatusCode();

        // A guard stops a run: told within moments, without a name in it, and the link leads to it.
        await GuardedAsync(narbit);
        browser.Until(() => !box.Mails.IsEmpty, "the guard's mail");
        box.Mails.TryDequeue(out var mail).ShouldBeTrue();
        mail!.Subject!.ShouldContain("a guard stopped the run");
        mail.TextBody!.ShouldContain("/mismatches?cause=run.guard");
        mail.HtmlBody!.ShouldContain("A guard stopped the run");
        browser.See("sent", "section[aria-label='The last mails']");
        browser.Open("/mismatches?cause=run.guard");
        browser.See("A guard stopped the run");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task What_is_said_of_a_mail_server_is_checked_and_its_password_never_told()
    {
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example");
        var server = new Dictionary<string, object?>
        {
            ["host"] = "mail.lanternmoor.example",
            ["port"] = 587,
            ["security"] = "startTls",
            ["user"] = "narbit",
            ["password"] = "kiln-and-clay",
            ["from"] = "narbit@lanternmoor.example",
            ["linksTo"] = "http://narbit.example",
            ["dailyAt"] = "07:30",
        };
        foreach (
            var (name, value, code) in new (string, object?, string)[]
            {
                ("host", "two words", "mail.host"),
                ("host", "169.254.169.254", "mail.forbidden"),
                ("port", 0, "mail.port"),
                ("from", "nobody", "mail.from"),
                ("linksTo", "narbit", "mail.links"),
                ("dailyAt", "7 o'clock", "mail.daily"),
                ("security", "none", "mail.open"),
            }
        )
        {
            var wrong = new Dictionary<string, object?>(server) { [name] = value };
            var problem = await RunningNarbit.ProblemAsync(
                await narbit.SendAsync(HttpMethod.Put, "/api/telling/server", wrong),
                HttpStatusCode.UnprocessableEntity
            );
            problem["code"]!.GetValue<string>().ShouldBe(code);
        }

        (await narbit.SendAsync(HttpMethod.Put, "/api/telling/server", server)).EnsureSuccessStatusCode();
        var kept = await narbit.GetAsync("/api/telling");
        kept["server"]!["user"]!.GetValue<string>().ShouldBe("narbit");
        kept.ToJsonString().ShouldNotContain("kiln-and-clay");
        (await narbit.SendAsync(HttpMethod.Delete, "/api/telling/server")).EnsureSuccessStatusCode();
        (await narbit.GetAsync("/api/telling"))["server"].ShouldBeNull();
    }

    [Fact]
    public async Task Another_tool_is_told_by_signed_webhooks_and_reads_the_feed()
    {
        await using var tool = await HookTool.StartAsync();
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.UntilMismatchAsync("cause=pair.likely", rows => rows.Count > 0);
        using var browser = new Browser(narbit.Address);
        browser.Open("/settings/told");
        browser.Fill("Name of the tool", "Board");
        browser.Fill("Address that listens", "http://169.254.169.254/");
        browser.Click("Tell it");
        browser.See("is an address that Narbit does not connect to");
        browser.Fill("Address that listens", $"{tool.Address}hooks");
        browser.Click("Tell it");
        browser.See("Its webhooks are signed with");
        var secret = browser.Text("section[aria-label='Other tools'] code");
        browser.Click("Send a test to Board");
        browser.See("It has taken a webhook.");
        var test = await tool.NextAsync();
        test.Fault(secret).ShouldBeNull();
        test.Json["kind"]!.GetValue<string>().ShouldBe("test");
        test.Fault("another secret")!.Code.ShouldBe("hook.signature");

        tool.Answer = 503;
        browser.Click("Send a test to Board");
        browser.See("answered 503");
        browser.Choose("A cause of unpaired by itself", "Likely pairs");
        browser.See("as the others");
        var wishes = (await narbit.GetAsync("/api/telling"))["wishes"]!.AsArray();
        wishes.Single(w => w!["cause"]?.GetValue<string>() == "pair.likely")!["when"]!.GetValue<string>().ShouldBe("never");
        browser.Axe().ShouldBeEmpty();

        var feed = XDocument.Parse(await narbit.Http.GetStringAsync("/feeds/mismatches.atom"));
        XNamespace atom = "http://www.w3.org/2005/Atom";
        var likely = feed.Root!.Elements(atom + "entry")
            .Single(e => e.Element(atom + "title")!.Value.EndsWith("× Likely pairs", StringComparison.Ordinal));
        likely.Element(atom + "link")!.Attribute("href")!.Value.ShouldEndWith("/mismatches?cause=pair.likely");
        browser.Click("Remove Board");
        browser.See("It is told no more.");
        browser.Errors().ShouldBeEmpty();
    }

    private static async Task GuardedAsync(RunningNarbit narbit)
    {
        var rule = (await narbit.GetAsync("/api/lanes/prices-web-shop/rule/versions"))[0]!;
        (
            await narbit.SendAsync(
                HttpMethod.Put,
                "/api/lanes/prices-web-shop/rule",
                new
                {
                    baseNumber = rule["number"]!.GetValue<int>(),
                    document = rule["document"],
                    guards = new { changedShare = 0.1 },
                }
            )
        ).EnsureSuccessStatusCode();
        await narbit.EndedAsync(await narbit.StartRunAsync("prices-web-shop", preview: false));
    }
}
