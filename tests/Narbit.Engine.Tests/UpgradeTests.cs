using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Corrections;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Lanes.Stock;

namespace Narbit.Engine.Tests;

/// <summary>A database that an earlier Narbit wrote is brought up to date, and nothing in it is lost.</summary>
public sealed class UpgradeTests : IAsyncDisposable
{
    // The last form before a lane could flow either way.
    private const string Earlier = "BothSides";

    // Two lanes and their rules, an item hidden by its lane and one made as a draft, a run with one of each kind of write and a remark.
    private const string Rows = """
        INSERT INTO Workspaces (Id, Name, TimeZone, HubId, Person) VALUES (1, 'Lanternmoor', 'UTC', 'bo', 'Tester');
        INSERT INTO Lanes (Id, Kind, SourceId, TargetId, RuleNumber, InStep, OutOfStep, Paired, Waiting, Off, Paused, PublishedOnly,
            HeldAt, HeldBy)
        VALUES ('p', 'Price', 'bo', 'ws', 1, 1, 2, 3, 4, 0, 0, 0, 638000000000000000, 'Somebody'),
               ('s', 'Stock', 'bo', 'ws', 1, 0, 0, 0, 0, 0, 0, 0, NULL, NULL),
               ('i', 'Item', 'bo', 'ws', 1, 0, 0, 0, 0, 0, 0, 0, NULL, NULL),
               ('c', 'Correction', 'bo', 'bo', 1, 0, 0, 0, 0, 0, 0, 0, NULL, NULL);
        INSERT INTO RuleVersions (LaneId, Number, Document, Author, At)
        VALUES ('p', 1, '{"priceList":"Studio"}', 'Tester', 1), ('s', 1, '{"cap":20}', 'Tester', 1),
               ('i', 1, '{"fields":[{"target":"title"}]}', 'Tester', 1),
               ('c', 1, '{"corrections":[]}', 'Tester', 1);
        INSERT INTO Couples (Id, HubId, OtherId, Kind, AcceptsCertain) VALUES (1, 'bo', 'ws', 'Item', 1);
        INSERT INTO Links (Id, CoupleId, HubKey, OtherKey, DecisionId, IsKit, Quantity)
        VALUES (1, 1, 'H1', 'W1', 1, 0, 1), (2, 1, 'H2', 'W2', 1, 0, 1);
        INSERT INTO Batches (Id, CoupleId, At, By, Decisions, Note)
        VALUES (1, 1, 1, 'Pairing', 2, NULL), (2, 1, 2, 'Tester', 1, 'first stock-taking of 9'), (3, 1, 3, 'Tester', 1, NULL);
        INSERT INTO Records (Id, SystemId, Kind, Key, Parent, Sku, Title, Hash, Raw, "Values", ChangedAt)
        VALUES (1, 'bo', 'Item', 'H1', 'GRP', 'A-1', 'Alpha', x'00', '{}', '{"sku":"A-1"}', 1);
        INSERT INTO Agreed (LaneId, TargetKey, Field, Value, Source, At)
        VALUES ('p', 'W1', 'price', '9.99', NULL, 10), ('s', 'W1', 'quantity', '7', '9', 11), ('i', 'W1', 'published', 'false', NULL, 12),
               ('i', 'W2', 'published', 'false', NULL, 12), ('p', 'W9', 'price', '1', NULL, 13);
        INSERT INTO Runs (Id, LaneId, State, Phase, Preview, "Trigger", StartedBy, RuleNumber, StartedAt, Paired, InStep, Remarked, Message)
        VALUES (1, 'p', 'Done', 'Finished', 0, 'Person', 'Tester', 1, 1, 3, 0, 1, NULL),
               (2, 'p', 'Failed', 'Send', 0, 'Person', 'Tester', 1, 1, 3, 0, 1, 'The shop was away.'),
               (3, 'i', 'Done', 'Finished', 0, 'Person', 'Tester', 1, 1, 3, 0, 1, NULL);
        INSERT INTO Writes (Id, RunId, HubKey, TargetKey, Sku, Title, Kind, State, HoldReason, Message, Act, ToSource, Guards, Move,
            IdempotencyKey, Attempts)
        VALUES (1, 1, 'H1', 'W1', 'A-1', 'Alpha', 'Up', 'Confirmed', NULL, 'was there already', 'Update', 0, '', 4.5, 'k1', 1),
               (2, 1, 'H2', 'W2', 'A-2', 'Beta', 'Down', 'Held', 'the price is zero', NULL, 'Update', 0, '', NULL, 'k2', 0),
               (3, 3, 'H1', 'W1', 'A-1', 'Alpha', 'Gone', 'Confirmed', NULL, NULL, 'Update', 0, '', NULL, 'k3', 1),
               (4, 3, 'H2', 'W2', 'A-2', 'Beta', 'Back', 'Planned', NULL, NULL, 'Update', 1, '', NULL, 'k4', 0);
        INSERT INTO WriteFields (WriteId, Field, Position, Old, New, Asks)
        VALUES (1, 'price', 0, '9.50', '9.99', 0), (3, 'published', 0, 'true', 'false', 0);
        INSERT INTO Remarks (Id, RunId, Cause, Message, HubKey, TargetKey, Sku, Title)
        VALUES (1, 1, 'noPrice', 'no price in Studio', 'H3', 'W3', 'A-3', 'Gamma');
        INSERT INTO KeptOff (LaneId, HubKey) VALUES ('p', 'H9');
        """;

    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-upgrade");

    [Fact]
    public async Task What_was_kept_is_still_there_in_its_new_form()
    {
        var database = await UpgradedAsync();
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.SingleAsync(l => l.Id == "p");
        (lane.Kind, lane.ClosedBy, lane.RuleNumber).ShouldBe(("price", "Somebody", 1));
        lane.ClosedAt.ShouldNotBeNull();
        (await db.KeptOff.SingleAsync()).SourceKey.ShouldBe("H9");
        (
            await db
                .Records.Select(r => new
                {
                    r.Reference,
                    r.Caption,
                    r.Parent,
                    r.Group,
                })
                .SingleAsync()
        ).ShouldBe(
            new
            {
                Reference = (string?)"A-1",
                Caption = (string?)"Alpha",
                Parent = (string?)"GRP",
                Group = (string?)null,
            }
        );
        (await db.Batches.OrderBy(b => b.Id).Select(b => b.Origin).ToListAsync()).ShouldBe([
            BatchOrigin.Pairing,
            BatchOrigin.StockTaking,
            BatchOrigin.Person,
        ]);

        var writes = await db.Writes.Include(w => w.Fields).OrderBy(w => w.Id).ToListAsync();
        writes
            .Select(w => (w.SourceKey, w.Reference, w.Way))
            .ShouldBe([("H1", "A-1", Way.There), ("H2", "A-2", Way.There), ("H1", "A-1", Way.There), ("H2", "A-2", Way.Back)]);
        (writes[0].Fate!.Words, writes[0].Move, writes[0].MoveUnit).ShouldBe(("was there already", 4.5, "%"));
        (writes[1].Hold!.Words, writes[1].Fate).ShouldBe(("the price is zero", null));
        writes[2].Kind.ShouldBe(ChangeKind.Withdrawn);
        (await db.Runs.SingleAsync(r => r.Id == 2)).Why!.Words.ShouldBe("The shop was away.");
        var remark = await db.Remarks.SingleAsync();
        (remark.Why.Code, remark.Why.Words, remark.SourceKey).ShouldBe(("noPrice", "no price in Studio", "H3"));
    }

    [Theory]
    [InlineData("p", typeof(PriceDocument))]
    [InlineData("s", typeof(StockDocument))]
    [InlineData("i", typeof(ItemDocument))]
    [InlineData("c", typeof(CorrectionDocument))]
    public async Task A_rule_says_of_itself_what_it_is(string lane, Type type)
    {
        var database = await UpgradedAsync();
        await using var db = database.CreateDbContext();
        var document = LaneJson.Read((await db.RuleVersions.SingleAsync(v => v.LaneId == lane)).Document);
        document.Fault.ShouldBeNull();
        document.Value.ShouldBeOfType(type);
        LaneWorks.Of(document.Value).Kind.ShouldBe((await db.Lanes.SingleAsync(l => l.Id == lane)).Kind);
        if (document.Value is PriceDocument { Rule: var price })
            price.PriceList.ShouldBe("Studio");
        if (document.Value is StockDocument { Rule: var stock })
            stock.Cap.ShouldBe(20);
    }

    [Fact]
    public async Task What_lanes_agreed_on_belongs_to_the_pair_of_records()
    {
        var database = await UpgradedAsync();
        await using var db = database.CreateDbContext();
        var agreed = await db.Agreed.OrderBy(a => a.Key).ThenBy(a => a.Field).ToListAsync();
        agreed
            .Select(a => (a.SystemId, a.Key, a.WithId, a.WithKey, a.Field, a.Value, a.Source))
            .ShouldBe([
                ("ws", "W1", "bo", "H1", "price", "9.99", null),
                // Hidden because of its item, so it is shown again with it …
                ("ws", "W1", "bo", "H1", "published", "false", "withdrawn"),
                ("ws", "W1", "bo", "H1", "quantity", "7", "9"),
                // … and a draft, which waits for a person.
                ("ws", "W2", "bo", "H2", "published", "false", null),
            ]);
        agreed.ShouldAllBe(a => a.Kind == RecordKind.Item);
    }

    [Fact]
    public async Task An_upgrade_that_was_killed_is_gone_on_with_and_what_was_there_before_is_kept_beside_it()
    {
        var database = await EarlierAsync(Earlier, Rows);
        await using (var db = database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync(
                "CREATE TABLE IF NOT EXISTS \"__EFMigrationsLock\" (\"Id\" INTEGER NOT NULL PRIMARY KEY, \"Timestamp\" TEXT NOT NULL); "
                    + "INSERT OR REPLACE INTO \"__EFMigrationsLock\" VALUES (1, '2026-01-01')"
            );
        var (copies, said) = (_folder.CreateSubdirectory("copies"), new List<string>());
        await database.UpgradeAsync(copies, said.Add, TestContext.Current.CancellationToken);
        said.Count.ShouldBe(3);
        await using (var db = database.CreateDbContext())
            (await db.Writes.CountAsync()).ShouldBe(4);

        // The copy is what was there, and can be opened and brought up to date in its turn.
        var copy = new Database(copies.GetFiles().ShouldHaveSingleItem().FullName);
        await copy.MigrateAsync();
        await using (var db = copy.CreateDbContext())
            (await db.Writes.CountAsync()).ShouldBe(4);
        said.Clear();
        await database.UpgradeAsync(copies, said.Add, TestContext.Current.CancellationToken);
        said.ShouldBeEmpty();
    }

    [Fact]
    public async Task What_was_packed_into_texts_of_an_order_becomes_rows()
    {
        var database = await EarlierAsync(
            "CurrencySums",
            """
            INSERT INTO OrderStandings (Id, LaneId, SourceKey, PlacedAt, Skus, Goods, Total, Stage, Causes, Words, Details, Refunded,
                UsesDefaultItem, DefaultItemLines, Untracked, ComputedAt)
            VALUES (1, 'o', 'S1', 1, ' A-1 B-2 ', '10001×2 10002×11', 5, 'Held', ' unknownItem payment ', 'both',
                        '[{"Code":"unknownItem","Subject":"OLD-1","Words":"OLD-1 is not known","Hint":"Celadon"},
                          {"Code":"payment","Subject":null,"Words":"it is not paid","Hint":null}]', 0, 0, '', 0, 1),
                   (2, 'o', 'S2', 1, '', '', 5, 'Waiting', ' payment totals ', 'it is not paid; it is off', '', 0, 0, '', 0, 1),
                   (3, 'o', 'S3', 1, ' A-1 ', '', 5, 'New', '', NULL, '', 0, 0, '', 0, 1);
            """
        );
        await database.MigrateAsync();
        await using var db = database.CreateDbContext();
        var kept = await db.OrderStandings.Include(o => o.Skus).Include(o => o.Goods).OrderBy(o => o.Id).ToListAsync();
        kept.Select(o => string.Join(' ', o.Skus.Select(s => s.Sku))).ShouldBe(["A-1 B-2", "", "A-1"]);
        kept[0].Goods.Select(g => (g.Item, g.Pieces)).ShouldBe([("10001", 2L), ("10002", 11L)], ignoreOrder: true);
        kept[0]
            .Causes.Select(c => (c.Code, c.Subject, c.Cause["title"]))
            .ShouldBe([("unknownItem", "OLD-1", "Celadon"), ("payment", null, null)]);
        kept.Select(o => o.Words).ShouldBe(["OLD-1 is not known; it is not paid", "it is not paid; it is off", null]);
        kept.ShouldAllBe(o => o.Fingerprint == "");
    }

    [Fact]
    public async Task What_was_brought_up_has_all_that_a_new_one_has_and_is_not_brought_up_again()
    {
        var made = new Database(Path.Combine(_folder.FullName, "new.db"));
        await made.MigrateAsync();
        foreach (var version in new[] { "First", Earlier, "KeysToCome" })
        {
            var database = await EarlierAsync(version, "");
            await database.MigrateAsync();
            (await FormAsync(database)).ShouldBe(await FormAsync(made), ignoreOrder: true);
            await using (var db = database.CreateDbContext())
                (await db.Database.GetAppliedMigrationsAsync()).ShouldBe(db.Database.GetMigrations());
            Database.ForgetConnections();
            File.Delete(database.Path);
        }
    }

    // Each column by its table, type and whether it may be empty, and each index, trigger and table of words.
    private static async Task<IReadOnlyList<string>> FormAsync(Database database)
    {
        await using var db = database.CreateDbContext();
        return await db
            .Database.SqlQueryRaw<string>(
                """
                SELECT m.name || '.' || c.name || ' ' || c.type || ' ' || c."notnull" || ' ' || c.pk AS Value
                FROM sqlite_master m JOIN pragma_table_info(m.name) c WHERE m.type = 'table' AND m.name NOT LIKE '\_\_EF%' ESCAPE '\'
                UNION ALL
                SELECT type || ' ' || name || ' ' || coalesce(trim(sql, ' ;' || char(10)), '') FROM sqlite_master WHERE type <> 'table'
                """
            )
            .ToListAsync();
    }

    private async Task<Database> UpgradedAsync()
    {
        var database = await EarlierAsync(Earlier, Rows);
        await database.MigrateAsync();
        return database;
    }

    // As that version left it: the steps up to its own, in the order of their names.
    private async Task<Database> EarlierAsync(string version, string rows)
    {
        var database = new Database(Path.Combine(_folder.FullName, "narbit.db"));
        await using var connection = await database.OpenAsync(bulk: false, TestContext.Current.CancellationToken);
        await ExecuteAsync("PRAGMA foreign_keys = OFF");
        await ExecuteAsync("CREATE TABLE __EFMigrationsHistory (MigrationId TEXT NOT NULL PRIMARY KEY, ProductVersion TEXT NOT NULL)");
        foreach (var step in Steps().TakeWhile(s => string.CompareOrdinal(NameOf(s), Named(version)) <= 0))
            await ExecuteAsync(
                $"{await File.ReadAllTextAsync(step)}; INSERT INTO __EFMigrationsHistory VALUES ('{NameOf(step)}', '10.0.10')"
            );
        await ExecuteAsync("PRAGMA foreign_keys = ON");
        await ExecuteAsync(rows);
        return database;

        async Task ExecuteAsync(string sql)
        {
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            await command.ExecuteNonQueryAsync();
        }
    }

    private static string Named(string version) => Steps().Select(NameOf).Single(s => s.EndsWith($"_{version}", StringComparison.Ordinal));

    private static string NameOf(string step) => Path.GetFileNameWithoutExtension(step);

    private static IEnumerable<string> Steps() =>
        Directory.GetFiles(Path.Combine(AppContext.BaseDirectory, "steps"), "*.sql").Order(StringComparer.Ordinal);

    public ValueTask DisposeAsync()
    {
        Database.ForgetConnections();
        _folder.Delete(recursive: true);
        return ValueTask.CompletedTask;
    }
}
