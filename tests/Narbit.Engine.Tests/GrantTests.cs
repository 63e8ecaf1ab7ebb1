using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core.Records;
using Narbit.Data.Systems;
using Narbit.Engine.Systems;
using Narbit.Unknown;

namespace Narbit.Engine.Tests;

/// <summary>Access that a person grants: OAuth 2.0's authorization code with PKCE.</summary>
public sealed class GrantTests : IAsyncLifetime
{
    private const string Document = """
        { "format": "narbit/rest-system/1", "name": "Grant House", "kind": "webStore", "mark": "GH", "currency": "EUR",
          "address": "http://x",
          "authentication": { "scheme": "authorizationCode", "authorize": "HOUSE/grant", "token": "HOUSE/token", "scope": "wares offline" },
          "limits": { "requestsPerSecond": 400, "attempts": 1 },
          "resources": [ { "kind": "item", "label": "wares", "key": "id", "list": { "path": "wares", "records": "" },
            "fields": [ { "name": "sku", "path": "sku", "role": "sku" }, { "name": "title", "path": "title", "role": "title" } ] } ] }
        """;

    private static readonly Uri Back = new("http://narbit.lanternmoor.example/granted");
    private readonly GrantHouse _house = new();
    private readonly FakeTimeProvider _clock = new(DateTimeOffset.UtcNow);
    private Workbench _bench = null!;
    private AdapterSource _adapters = null!;
    private GrantDesk _desk = null!;

    public async ValueTask InitializeAsync()
    {
        await _house.StartAsync();
        _bench = await Workbench.OpenAsync(items: 12, orders: 0);
        var (vault, outbound) = (new Workbench.OpenVault(), new OutboundPolicy(AllowLoopback: true));
        _adapters = new AdapterSource(_bench.Database, vault, outbound, _clock);
        _desk = new GrantDesk(_bench.Database, vault, outbound, _clock);
        await using var db = _bench.Database.CreateDbContext();
        db.Systems.Add(
            new ConnectedSystem
            {
                Id = "grant-house",
                Name = "Grant House",
                Kind = SystemKind.WebStore,
                Mark = "GH",
                Currency = "EUR",
                Document = Described,
                Address = $"{_house.Address}/api",
                ProtectedCredential = vault.Protect(new Credential(GrantHouse.Client, "")),
            }
        );
        await db.SaveChangesAsync();
    }

    public async ValueTask DisposeAsync()
    {
        _adapters.Dispose();
        await _bench.DisposeAsync();
        await _house.DisposeAsync();
    }

    [Fact]
    public async Task What_was_granted_is_kept_and_renewed_until_it_is_taken_back()
    {
        (await ReadAsync()).Fault!.Code.ShouldBe("grant.needed");
        await GrantAsync("grant-house");
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        _house.TokensGiven.ShouldBe(2, "one for the code, and one that serves all readings");
        _clock.Advance(TimeSpan.FromMinutes(9.5));
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        _house.TokensGiven.ShouldBe(3, "a new one before the old one ends");
        (await KeptAsync()).ProtectedGrant.ShouldBe(_house.Refresh, "the last that was given is kept");

        _house.Refresh = null;
        _house.ForgetToken();
        var lost = (await ReadAsync()).Fault!;
        lost.Code.ShouldBe("grant.lost");
        lost.Words.ShouldStartWith("Grant House takes the access that was granted no more. Grant it again under Systems, Connection.");
        (await KeptAsync()).GrantLostWhy!.ShouldContain("It was taken back.");
        (await ReadAsync()).Fault!.Code.ShouldBe("grant.needed");
        await GrantAsync("grant-house");
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        (await KeptAsync()).GrantLostWhy.ShouldBeNull();
    }

    [Fact]
    public async Task A_renewal_is_nobodys_and_is_kept_whoever_goes_away()
    {
        await GrantAsync("grant-house");
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        _clock.Advance(TimeSpan.FromMinutes(9.5));
        _house.Hold = new TaskCompletionSource();
        // The page is closed while the store renews; another revision's adapter wants a token meanwhile.
        using var page = new CancellationTokenSource();
        var connection = (await _adapters.ForAsync("grant-house", default)).Value;
        var left = connection.Adapter.ReadPageAsync(RecordKind.Item, null, null, page.Token);
        await _house.Given.Task;
        await page.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(async () => await left);
        await using (var db = _bench.Database.CreateDbContext())
            await db.Systems.Where(s => s.Id == "grant-house").ExecuteUpdateAsync(s => s.SetProperty(x => x.Revision, x => x.Revision + 1));
        var other = ReadAsync();
        _house.Hold.SetResult();
        (await other).Value.Records.Count.ShouldBe(9);
        (await KeptAsync()).ProtectedGrant.ShouldBe(_house.Refresh);
        (await KeptAsync()).GrantLostWhy.ShouldBeNull();
    }

    [Fact]
    public async Task What_is_refused_late_takes_nothing_that_was_granted_since()
    {
        await GrantAsync("grant-house");
        var before = (await KeptAsync()).ProtectedGrant!;
        var connection = (await _adapters.ForAsync("grant-house", default)).Value;
        var grant = _adapters.Known(connection.System)!.Value.Value.Grant!;
        await GrantAsync("grant-house");
        grant.Lost(before, "it was too late");
        (await KeptAsync()).GrantLostWhy.ShouldBeNull();
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
    }

    [Fact]
    public async Task A_system_that_is_removed_takes_its_grant_with_it()
    {
        await GrantAsync("grant-house");
        var removal = new Workspaces.RemovalDesk(_bench.Database, _bench.Reader, _bench.Live, _clock);
        (await removal.RemoveSystemAsync("grant-house", "Tester", default)).ShouldBeNull();
        await using (var db = _bench.Database.CreateDbContext())
            (await db.Systems.IgnoreQueryFilters().SingleAsync(s => s.Id == "grant-house")).ProtectedGrant.ShouldBeNull();
        (await removal.BringSystemBackAsync("grant-house", default)).ShouldBeNull();
        (await ReadAsync()).Fault!.Code.ShouldBe("refused", "its client has to be entered anew too");
    }

    [Fact]
    public async Task Access_to_a_system_that_is_being_described_is_known_before_it_is_added()
    {
        var id = await GrantAsync(null);
        var credential = new Credential(GrantHouse.Client, "") { Grant = _desk.Of(id) };
        using var adapter = _adapters.Make(Described, $"{_house.Address}/api", credential).Value;
        (await adapter.TestAsync(default)).Message.ShouldContain("wares: 9 read, all as described");
        credential.Grant!.Kept.ShouldBe(_house.Refresh);
    }

    [Fact]
    public async Task A_token_that_never_ends_needs_no_renewal()
    {
        (_house.TokensEnd, _house.Renews) = (false, false);
        await GrantAsync("grant-house");
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        _clock.Advance(TimeSpan.FromDays(400));
        (await ReadAsync()).Value.Records.Count.ShouldBe(9);
        _house.TokensGiven.ShouldBe(1);
    }

    [Fact]
    public async Task Access_that_ends_and_cannot_be_renewed_is_not_taken()
    {
        _house.Renews = false;
        var begun = Begin(null);
        var why = await _desk.RedeemAsync(StateIn(begun), await CodeAsync(begun), null, default);
        why!.Words.ShouldContain("gave access that ends, and nothing to renew it with");
        _desk.Standing(begun.Id)!.State.ShouldBe(GrantState.Failed);
        _desk.Of(begun.Id).ShouldBeNull();
    }

    [Fact]
    public async Task An_answer_counts_once_and_for_its_own_request_only()
    {
        var begun = Begin(null);
        _desk.Standing(begun.Id)!.State.ShouldBe(GrantState.Open);
        (await _desk.RedeemAsync("another", "c1", null, default))!.Code.ShouldBe("grant.unknown");
        var stolen = await CodeAsync(Begin(null));
        (await _desk.RedeemAsync(StateIn(begun), stolen, null, default))!.Words.ShouldContain("It was taken back.");
        (await _desk.RedeemAsync(StateIn(begun), stolen, null, default))!.Code.ShouldBe("grant.unknown");
        var refused = Begin(null);
        (await _desk.RedeemAsync(StateIn(refused), null, "access_denied", default))!.Words.ShouldBe(
            "Access was not granted: access_denied. Nothing was changed."
        );
    }

    [Theory]
    [InlineData("javascript:alert(1)", GrantHouse.Client, "address.invalid")]
    [InlineData("grant", "", "document.invalid")]
    public void A_request_that_cannot_be_made_says_why(string authorize, string client, string code)
    {
        var document = RestDocument.Read(Described).Value;
        var signIn = document.Authentication with { Authorize = authorize };
        var begun = _desk.Begin(document with { Authentication = signIn }, _house.Address, new Credential(client, ""), null, Back);
        begun.Fault!.Code.ShouldBe(code);
    }

    private string Described => Document.Replace("HOUSE", _house.Address, StringComparison.Ordinal);

    private GrantBegun Begin(string? system) =>
        _desk.Begin(RestDocument.Read(Described).Value, $"{_house.Address}/api", new Credential(GrantHouse.Client, ""), system, Back).Value;

    private async Task<string> GrantAsync(string? system)
    {
        var begun = Begin(system);
        (await _desk.RedeemAsync(StateIn(begun), await CodeAsync(begun), null, default)).ShouldBeNull();
        _desk.Standing(begun.Id)!.State.ShouldBe(GrantState.Given);
        return begun.Id;
    }

    // A person looks at the page and lets Narbit in; the browser is sent back with a code.
    private static async Task<string> CodeAsync(GrantBegun begun)
    {
        using var browser = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false });
        (await browser.GetStringAsync(begun.Address)).ShouldContain("Let Narbit in");
        var asked = QueryOf(begun.Address);
        asked["scope"].ShouldBe("wares offline");
        var yes = await browser.PostAsync(new Uri(new Uri(begun.Address), "/grant/yes"), new FormUrlEncodedContent(asked));
        var back = QueryOf(yes.Headers.Location!.OriginalString);
        back["state"].ShouldBe(asked["state"]);
        return back["code"];
    }

    private static string StateIn(GrantBegun begun) => QueryOf(begun.Address)["state"];

    private static Dictionary<string, string> QueryOf(string address) =>
        new Uri(address).Query[1..].Split('&').Select(p => p.Split('=')).ToDictionary(p => p[0], p => Uri.UnescapeDataString(p[1]));

    private async Task<Core.Outcome<RecordPage>> ReadAsync()
    {
        var connection = (await _adapters.ForAsync("grant-house", default)).Value;
        return await connection.Adapter.ReadPageAsync(RecordKind.Item, null, null, default);
    }

    private async Task<ConnectedSystem> KeptAsync()
    {
        await using var db = _bench.Database.CreateDbContext();
        return await db.Systems.AsNoTracking().SingleAsync(s => s.Id == "grant-house");
    }
}
