using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Base : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "ActsOn",
                columns: table => new
                {
                    ActId = table.Column<long>(type: "INTEGER", nullable: false),
                    MismatchId = table.Column<long>(type: "INTEGER", nullable: false),
                    StateBefore = table.Column<string>(type: "TEXT", nullable: false),
                    UntilBefore = table.Column<long>(type: "INTEGER", nullable: true),
                    OwnerBefore = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ActsOn", x => new { x.ActId, x.MismatchId });
                });

            migrationBuilder.CreateTable(
                name: "Agreed",
                columns: table => new
                {
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    WithId = table.Column<string>(type: "TEXT", nullable: false),
                    WithKey = table.Column<string>(type: "TEXT", nullable: false),
                    Field = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<string>(type: "TEXT", nullable: true),
                    Source = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Agreed", x => new { x.SystemId, x.Kind, x.WithId, x.Key, x.WithKey, x.Field });
                });

            migrationBuilder.CreateTable(
                name: "Batches",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: false),
                    Origin = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: true),
                    Decisions = table.Column<int>(type: "INTEGER", nullable: false),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true),
                    UndoneAt = table.Column<long>(type: "INTEGER", nullable: true),
                    WayBefore = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Batches", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Colleagues",
                columns: table => new
                {
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Mail = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Colleagues", x => x.Name);
                });

            migrationBuilder.CreateTable(
                name: "Counterparts",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    SourceId = table.Column<string>(type: "TEXT", nullable: false),
                    SourceKey = table.Column<string>(type: "TEXT", nullable: false),
                    TargetId = table.Column<string>(type: "TEXT", nullable: false),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: false),
                    RunId = table.Column<long>(type: "INTEGER", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Counterparts", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Couples",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    HubId = table.Column<string>(type: "TEXT", nullable: false),
                    OtherId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    AcceptsCertain = table.Column<bool>(type: "INTEGER", nullable: false),
                    Way = table.Column<string>(type: "TEXT", nullable: true),
                    TakingSince = table.Column<long>(type: "INTEGER", nullable: true),
                    HabitBefore = table.Column<string>(type: "TEXT", nullable: true),
                    HabitAfter = table.Column<string>(type: "TEXT", nullable: true),
                    PairedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Couples", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "DaysOff",
                columns: table => new
                {
                    Date = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DaysOff", x => x.Date);
                });

            migrationBuilder.CreateTable(
                name: "Decisions",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: false),
                    BatchId = table.Column<long>(type: "INTEGER", nullable: true),
                    Act = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    Parts = table.Column<string>(type: "TEXT", nullable: true),
                    Reason = table.Column<string>(type: "TEXT", nullable: true),
                    Evidence = table.Column<string>(type: "TEXT", nullable: false),
                    Verdict = table.Column<string>(type: "TEXT", nullable: true),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    HubClaim = table.Column<string>(type: "TEXT", nullable: true),
                    OtherClaim = table.Column<string>(type: "TEXT", nullable: true),
                    Before = table.Column<string>(type: "TEXT", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    DeskActId = table.Column<long>(type: "INTEGER", nullable: true),
                    ThrownAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ThrownBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Decisions", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Deliveries",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ListenerId = table.Column<long>(type: "INTEGER", nullable: false),
                    EventId = table.Column<string>(type: "TEXT", nullable: false),
                    Body = table.Column<string>(type: "TEXT", nullable: false),
                    MadeAt = table.Column<long>(type: "INTEGER", nullable: false),
                    SentAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    NextAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Fault = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Deliveries", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "DescriptionVersions",
                columns: table => new
                {
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    Author = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DescriptionVersions", x => new { x.SystemId, x.Number });
                });

            migrationBuilder.CreateTable(
                name: "Drafts",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    BaseNumber = table.Column<int>(type: "INTEGER", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    Guards = table.Column<string>(type: "TEXT", nullable: true),
                    Note = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Window = table.Column<string>(type: "TEXT", nullable: false),
                    ThrownAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Drafts", x => new { x.LaneId, x.Person });
                });

            migrationBuilder.CreateTable(
                name: "HookEvents",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    EventId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    RecordKey = table.Column<string>(type: "TEXT", nullable: false),
                    ReceivedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    NextAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Fault = table.Column<string>(type: "TEXT", nullable: true),
                    SetAsideAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ReadAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HookEvents", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Jobs",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Timetable = table.Column<string>(type: "TEXT", nullable: true),
                    WhenAtWork = table.Column<string>(type: "TEXT", nullable: false),
                    WhenMissed = table.Column<string>(type: "TEXT", nullable: false),
                    WhenFailed = table.Column<string>(type: "TEXT", nullable: false),
                    AgainAfterMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    AgainTimes = table.Column<int>(type: "INTEGER", nullable: false),
                    AtOnce = table.Column<bool>(type: "INTEGER", nullable: false),
                    LookEverySeconds = table.Column<int>(type: "INTEGER", nullable: true),
                    Off = table.Column<bool>(type: "INTEGER", nullable: false),
                    OnTop = table.Column<bool>(type: "INTEGER", nullable: false),
                    PausedUntil = table.Column<long>(type: "INTEGER", nullable: true),
                    SkipNext = table.Column<int>(type: "INTEGER", nullable: false),
                    SettledUntil = table.Column<long>(type: "INTEGER", nullable: false),
                    NextDueAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Notice_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Notice_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Notice_Values = table.Column<string>(type: "TEXT", nullable: true),
                    RemovedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    LanesBefore = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Jobs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "KeptOff",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    SourceKey = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_KeptOff", x => new { x.LaneId, x.SourceKey });
                });

            migrationBuilder.CreateTable(
                name: "Lanes",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    SourceId = table.Column<string>(type: "TEXT", nullable: false),
                    TargetId = table.Column<string>(type: "TEXT", nullable: false),
                    SkuStartsWith = table.Column<string>(type: "TEXT", nullable: true),
                    PublishedOnly = table.Column<bool>(type: "INTEGER", nullable: false),
                    RuleNumber = table.Column<int>(type: "INTEGER", nullable: false),
                    EveryMinutes = table.Column<int>(type: "INTEGER", nullable: true),
                    Paused = table.Column<bool>(type: "INTEGER", nullable: false),
                    Off = table.Column<bool>(type: "INTEGER", nullable: false),
                    ClosedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ClosedBy = table.Column<string>(type: "TEXT", nullable: true),
                    ComparedRunId = table.Column<long>(type: "INTEGER", nullable: true),
                    ComparedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    RemovedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Lanes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Links",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: false),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: false),
                    Quantity = table.Column<decimal>(type: "TEXT", nullable: false),
                    IsKit = table.Column<bool>(type: "INTEGER", nullable: false),
                    DecisionId = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Links", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Listeners",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    ProtectedSecret = table.Column<string>(type: "TEXT", nullable: false),
                    OnlyHarm = table.Column<bool>(type: "INTEGER", nullable: false),
                    LinksTo = table.Column<string>(type: "TEXT", nullable: false),
                    Until = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Listeners", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Mails",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    To = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    Html = table.Column<string>(type: "TEXT", nullable: false),
                    MadeAt = table.Column<long>(type: "INTEGER", nullable: false),
                    SentAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    NextAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Fault = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Mails", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "MailServers",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Host = table.Column<string>(type: "TEXT", nullable: false),
                    Port = table.Column<int>(type: "INTEGER", nullable: false),
                    Security = table.Column<string>(type: "TEXT", nullable: false),
                    User = table.Column<string>(type: "TEXT", nullable: true),
                    ProtectedPassword = table.Column<string>(type: "TEXT", nullable: true),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    LinksTo = table.Column<string>(type: "TEXT", nullable: false),
                    Since = table.Column<long>(type: "INTEGER", nullable: false),
                    DailyAt = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MailServers", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "MetServers",
                columns: table => new
                {
                    Server = table.Column<string>(type: "TEXT", nullable: false),
                    Fingerprint = table.Column<string>(type: "TEXT", nullable: false),
                    MetAt = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MetServers", x => x.Server);
                });

            migrationBuilder.CreateTable(
                name: "MismatchActs",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: true),
                    Undo = table.Column<string>(type: "TEXT", nullable: true),
                    Count = table.Column<int>(type: "INTEGER", nullable: false),
                    Learned = table.Column<bool>(type: "INTEGER", nullable: false),
                    UndoneAt = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MismatchActs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "MismatchDays",
                columns: table => new
                {
                    Day = table.Column<string>(type: "TEXT", nullable: false),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    Open = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MismatchDays", x => new { x.Day, x.Cause });
                });

            migrationBuilder.CreateTable(
                name: "Mismatches",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Scope = table.Column<string>(type: "TEXT", nullable: false),
                    Origin = table.Column<string>(type: "TEXT", nullable: false),
                    OtherSystemId = table.Column<string>(type: "TEXT", nullable: true),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    LaneId = table.Column<string>(type: "TEXT", nullable: true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: true),
                    RunId = table.Column<long>(type: "INTEGER", nullable: true),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: true),
                    Hint = table.Column<string>(type: "TEXT", nullable: true),
                    Proposal = table.Column<string>(type: "TEXT", nullable: true),
                    Because = table.Column<string>(type: "TEXT", nullable: true),
                    Pieces = table.Column<double>(type: "REAL", nullable: true),
                    Worth = table.Column<long>(type: "INTEGER", nullable: true),
                    Currency = table.Column<string>(type: "TEXT", nullable: true),
                    Since = table.Column<long>(type: "INTEGER", nullable: false),
                    FirstSeenAt = table.Column<long>(type: "INTEGER", nullable: false),
                    OpenedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    SeenAt = table.Column<long>(type: "INTEGER", nullable: false),
                    Seen = table.Column<int>(type: "INTEGER", nullable: false),
                    CameBack = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Until = table.Column<long>(type: "INTEGER", nullable: true),
                    Owner = table.Column<string>(type: "TEXT", nullable: true),
                    SettledBy = table.Column<string>(type: "TEXT", nullable: true),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ActId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Mismatches", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "OrderDecisions",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    OrderKey = table.Column<string>(type: "TEXT", nullable: true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: true),
                    Value = table.Column<string>(type: "TEXT", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    UndoneAt = table.Column<long>(type: "INTEGER", nullable: true),
                    DeskActId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderDecisions", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "OrderStandings",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    SourceKey = table.Column<string>(type: "TEXT", nullable: false),
                    Number = table.Column<string>(type: "TEXT", nullable: true),
                    PlacedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    Buyer = table.Column<string>(type: "TEXT", nullable: true),
                    Email = table.Column<string>(type: "TEXT", nullable: true),
                    Total = table.Column<double>(type: "REAL", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: true),
                    Stage = table.Column<string>(type: "TEXT", nullable: false),
                    Refunded = table.Column<double>(type: "REAL", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    UsesDefaultItem = table.Column<bool>(type: "INTEGER", nullable: false),
                    DefaultItemLines = table.Column<string>(type: "TEXT", nullable: false),
                    Untracked = table.Column<bool>(type: "INTEGER", nullable: false),
                    ComputedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    Fingerprint = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderStandings", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Parents",
                columns: table => new
                {
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Raw = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Parents", x => new { x.SystemId, x.Kind, x.Key });
                });

            migrationBuilder.CreateTable(
                name: "ProofLines",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ProofId = table.Column<long>(type: "INTEGER", nullable: false),
                    Finding = table.Column<string>(type: "TEXT", nullable: false),
                    SourceKey = table.Column<string>(type: "TEXT", nullable: false),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: false),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Field = table.Column<string>(type: "TEXT", nullable: true),
                    There = table.Column<string>(type: "TEXT", nullable: true),
                    Should = table.Column<string>(type: "TEXT", nullable: true),
                    Before = table.Column<string>(type: "TEXT", nullable: true),
                    Words = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProofLines", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ProofRounds",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    By = table.Column<string>(type: "TEXT", nullable: true),
                    Day = table.Column<string>(type: "TEXT", nullable: false),
                    StartedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProofRounds", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Proofs",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RoundId = table.Column<long>(type: "INTEGER", nullable: false),
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Day = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true),
                    RuleNumber = table.Column<int>(type: "INTEGER", nullable: false),
                    Records = table.Column<int>(type: "INTEGER", nullable: false),
                    RecordsInStep = table.Column<int>(type: "INTEGER", nullable: false),
                    Fields = table.Column<int>(type: "INTEGER", nullable: false),
                    FieldsInStep = table.Column<int>(type: "INTEGER", nullable: false),
                    ChangedThere = table.Column<int>(type: "INTEGER", nullable: false),
                    ToSend = table.Column<int>(type: "INTEGER", nullable: false),
                    Missing = table.Column<int>(type: "INTEGER", nullable: false),
                    Held = table.Column<int>(type: "INTEGER", nullable: false),
                    NotComputed = table.Column<int>(type: "INTEGER", nullable: false),
                    Mistaken = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Proofs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Proposals",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    Verdict = table.Column<string>(type: "TEXT", nullable: false),
                    Confidence = table.Column<double>(type: "REAL", nullable: false),
                    Evidence = table.Column<string>(type: "TEXT", nullable: false),
                    Candidates = table.Column<string>(type: "TEXT", nullable: false),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Causes = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Proposals", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ReadPages",
                columns: table => new
                {
                    ReadId = table.Column<long>(type: "INTEGER", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Keys = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ReadPages", x => new { x.ReadId, x.Number });
                });

            migrationBuilder.CreateTable(
                name: "Reads",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Since = table.Column<long>(type: "INTEGER", nullable: true),
                    Cursor = table.Column<string>(type: "TEXT", nullable: true),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Pages = table.Column<int>(type: "INTEGER", nullable: false),
                    Records = table.Column<int>(type: "INTEGER", nullable: false),
                    Listed = table.Column<int>(type: "INTEGER", nullable: false),
                    Total = table.Column<int>(type: "INTEGER", nullable: true),
                    Changed = table.Column<int>(type: "INTEGER", nullable: false),
                    Gone = table.Column<int>(type: "INTEGER", nullable: false),
                    Troubled = table.Column<int>(type: "INTEGER", nullable: false),
                    StartedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Message = table.Column<string>(type: "TEXT", nullable: true),
                    Moved = table.Column<bool>(type: "INTEGER", nullable: false),
                    AsOf = table.Column<long>(type: "INTEGER", nullable: true),
                    NewestChange = table.Column<long>(type: "INTEGER", nullable: true),
                    Unkept = table.Column<int>(type: "INTEGER", nullable: false),
                    UnkeptFirst = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Reads", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Records",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Parent = table.Column<string>(type: "TEXT", nullable: true),
                    Group = table.Column<string>(type: "TEXT", nullable: true),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Hash = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Raw = table.Column<string>(type: "TEXT", nullable: false),
                    Children = table.Column<string>(type: "TEXT", nullable: true),
                    Values = table.Column<string>(type: "TEXT", nullable: false),
                    Problems = table.Column<string>(type: "TEXT", nullable: true),
                    FirstReadAt = table.Column<long>(type: "INTEGER", nullable: false),
                    ChangedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    GoneAt = table.Column<long>(type: "INTEGER", nullable: true),
                    MissedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    AnonymisedAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Records", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Remarks",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RunId = table.Column<long>(type: "INTEGER", nullable: false),
                    SourceKey = table.Column<string>(type: "TEXT", nullable: true),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: true),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: false),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: false),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Remarks", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ReservedKeys",
                columns: table => new
                {
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<long>(type: "INTEGER", nullable: false),
                    IdempotencyKey = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ReservedKeys", x => new { x.SystemId, x.Kind, x.Key });
                });

            migrationBuilder.CreateTable(
                name: "RuleVersions",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    Guards = table.Column<string>(type: "TEXT", nullable: true),
                    Author = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: true),
                    DeskActId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RuleVersions", x => new { x.LaneId, x.Number });
                });

            migrationBuilder.CreateTable(
                name: "Runs",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Preview = table.Column<bool>(type: "INTEGER", nullable: false),
                    Trigger = table.Column<string>(type: "TEXT", nullable: false),
                    StartedBy = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Phase = table.Column<string>(type: "TEXT", nullable: false),
                    RuleNumber = table.Column<int>(type: "INTEGER", nullable: false),
                    StartedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    PlannedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Paired = table.Column<int>(type: "INTEGER", nullable: false),
                    InStep = table.Column<int>(type: "INTEGER", nullable: false),
                    Remarked = table.Column<int>(type: "INTEGER", nullable: false),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true),
                    Tripped = table.Column<string>(type: "TEXT", nullable: true),
                    Basis = table.Column<string>(type: "TEXT", nullable: true),
                    WorkedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Requests = table.Column<int>(type: "INTEGER", nullable: false),
                    Repeats = table.Column<int>(type: "INTEGER", nullable: false),
                    Lost = table.Column<int>(type: "INTEGER", nullable: false),
                    LostWaitedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LimitWaitedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    RepeatWaitedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    RollsBack = table.Column<long>(type: "INTEGER", nullable: true),
                    TurnId = table.Column<long>(type: "INTEGER", nullable: true),
                    Fields = table.Column<string>(type: "TEXT", nullable: true),
                    Only = table.Column<string>(type: "TEXT", nullable: true),
                    RequestsBySystem = table.Column<string>(type: "TEXT", nullable: true),
                    Chosen = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Runs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "SetAsides",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    ToCreate = table.Column<bool>(type: "INTEGER", nullable: false),
                    DecisionId = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SetAsides", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Systems",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Mark = table.Column<string>(type: "TEXT", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    Decimals = table.Column<int>(type: "INTEGER", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    ProtectedCredential = table.Column<string>(type: "TEXT", nullable: true),
                    CredentialSetAt = table.Column<long>(type: "INTEGER", nullable: true),
                    CredentialEndsOn = table.Column<string>(type: "TEXT", nullable: true),
                    ProtectedGrant = table.Column<string>(type: "TEXT", nullable: true),
                    GrantedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    GrantLostWhy = table.Column<string>(type: "TEXT", nullable: true),
                    MayRead = table.Column<bool>(type: "INTEGER", nullable: false),
                    MayWrite = table.Column<bool>(type: "INTEGER", nullable: false),
                    TestedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    TestOk = table.Column<bool>(type: "INTEGER", nullable: true),
                    TestMessage = table.Column<string>(type: "TEXT", nullable: true),
                    ProtectedHookSecret = table.Column<string>(type: "TEXT", nullable: true),
                    ProtectedHookSecretBefore = table.Column<string>(type: "TEXT", nullable: true),
                    HookSecretAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ReadsWholeDaily = table.Column<bool>(type: "INTEGER", nullable: false),
                    PausedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    PausedBy = table.Column<string>(type: "TEXT", nullable: true),
                    RemovedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Revision = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Systems", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Told",
                columns: table => new
                {
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Until = table.Column<long>(type: "INTEGER", nullable: false),
                    AtOnceAt = table.Column<long>(type: "INTEGER", nullable: true),
                    SummedUpOn = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Told", x => x.Person);
                });

            migrationBuilder.CreateTable(
                name: "Tries",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    WriteId = table.Column<long>(type: "INTEGER", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: false),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: false),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Tries", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Troubles",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RunId = table.Column<long>(type: "INTEGER", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    System = table.Column<string>(type: "TEXT", nullable: false),
                    Request = table.Column<string>(type: "TEXT", nullable: false),
                    Attempts = table.Column<int>(type: "INTEGER", nullable: false),
                    Lost = table.Column<int>(type: "INTEGER", nullable: false),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: false),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: false),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true),
                    Answered = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Troubles", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Turns",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    JobId = table.Column<string>(type: "TEXT", nullable: false),
                    DueAt = table.Column<long>(type: "INTEGER", nullable: false),
                    DueUntil = table.Column<long>(type: "INTEGER", nullable: false),
                    Times = table.Column<int>(type: "INTEGER", nullable: false),
                    Trigger = table.Column<string>(type: "TEXT", nullable: false),
                    StartedBy = table.Column<string>(type: "TEXT", nullable: false),
                    Fate = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    StartedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Scope = table.Column<string>(type: "TEXT", nullable: true),
                    Chain = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Turns", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ValueChanges",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Field = table.Column<string>(type: "TEXT", nullable: false),
                    Old = table.Column<string>(type: "TEXT", nullable: true),
                    New = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    WriteId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ValueChanges", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Wishes",
                columns: table => new
                {
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Harm = table.Column<string>(type: "TEXT", nullable: false),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    When = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Wishes", x => new { x.Person, x.Harm, x.Cause });
                });

            migrationBuilder.CreateTable(
                name: "Workspaces",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    TimeZone = table.Column<string>(type: "TEXT", nullable: false),
                    HubId = table.Column<string>(type: "TEXT", nullable: true),
                    Currency = table.Column<string>(type: "TEXT", nullable: true),
                    Country = table.Column<string>(type: "TEXT", nullable: true),
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Numbers = table.Column<string>(type: "TEXT", nullable: false),
                    Dates = table.Column<string>(type: "TEXT", nullable: false),
                    FirstDay = table.Column<string>(type: "TEXT", nullable: false),
                    AnonymiseAfterDays = table.Column<int>(type: "INTEGER", nullable: true),
                    ProvedAt = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Workspaces", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Writes",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RunId = table.Column<long>(type: "INTEGER", nullable: false),
                    SourceKey = table.Column<string>(type: "TEXT", nullable: false),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: false),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Hold_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Hold_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Hold_Values = table.Column<string>(type: "TEXT", nullable: true),
                    Record = table.Column<string>(type: "TEXT", nullable: false),
                    Act = table.Column<string>(type: "TEXT", nullable: false),
                    Way = table.Column<string>(type: "TEXT", nullable: false),
                    Guards = table.Column<string>(type: "TEXT", nullable: false),
                    ParentKey = table.Column<string>(type: "TEXT", nullable: true),
                    Group = table.Column<string>(type: "TEXT", nullable: true),
                    TakenBackIn = table.Column<long>(type: "INTEGER", nullable: true),
                    Move = table.Column<double>(type: "REAL", nullable: true),
                    MoveUnit = table.Column<string>(type: "TEXT", nullable: true),
                    IdempotencyKey = table.Column<string>(type: "TEXT", nullable: false),
                    Attempts = table.Column<int>(type: "INTEGER", nullable: false),
                    Fate_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Fate_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Fate_Values = table.Column<string>(type: "TEXT", nullable: true),
                    SentAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ConfirmedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Source = table.Column<string>(type: "TEXT", nullable: true),
                    Children = table.Column<string>(type: "TEXT", nullable: true),
                    ChildrenBefore = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Writes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "JobLanes",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    JobId = table.Column<string>(type: "TEXT", nullable: false),
                    Place = table.Column<int>(type: "INTEGER", nullable: false),
                    Fields = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_JobLanes", x => x.LaneId);
                    table.ForeignKey(
                        name: "FK_JobLanes_Jobs_JobId",
                        column: x => x.JobId,
                        principalTable: "Jobs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "OrderGoods",
                columns: table => new
                {
                    StandingId = table.Column<long>(type: "INTEGER", nullable: false),
                    Item = table.Column<string>(type: "TEXT", nullable: false),
                    Pieces = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderGoods", x => new { x.StandingId, x.Item });
                    table.ForeignKey(
                        name: "FK_OrderGoods_OrderStandings_StandingId",
                        column: x => x.StandingId,
                        principalTable: "OrderStandings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "OrderSkus",
                columns: table => new
                {
                    StandingId = table.Column<long>(type: "INTEGER", nullable: false),
                    Sku = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderSkus", x => new { x.StandingId, x.Sku });
                    table.ForeignKey(
                        name: "FK_OrderSkus_OrderStandings_StandingId",
                        column: x => x.StandingId,
                        principalTable: "OrderStandings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "StandingCauses",
                columns: table => new
                {
                    StandingId = table.Column<long>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Outcome = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: true),
                    Line = table.Column<string>(type: "TEXT", nullable: true),
                    Values = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StandingCauses", x => new { x.StandingId, x.Position });
                    table.ForeignKey(
                        name: "FK_StandingCauses_OrderStandings_StandingId",
                        column: x => x.StandingId,
                        principalTable: "OrderStandings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "TurnSteps",
                columns: table => new
                {
                    TurnId = table.Column<long>(type: "INTEGER", nullable: false),
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Place = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    RunId = table.Column<long>(type: "INTEGER", nullable: true),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    AgainAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_TurnSteps", x => new { x.TurnId, x.LaneId });
                    table.ForeignKey(
                        name: "FK_TurnSteps_Turns_TurnId",
                        column: x => x.TurnId,
                        principalTable: "Turns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "WriteFields",
                columns: table => new
                {
                    WriteId = table.Column<long>(type: "INTEGER", nullable: false),
                    Field = table.Column<string>(type: "TEXT", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Old = table.Column<string>(type: "TEXT", nullable: true),
                    New = table.Column<string>(type: "TEXT", nullable: true),
                    Trace = table.Column<string>(type: "TEXT", nullable: true),
                    Asks = table.Column<bool>(type: "INTEGER", nullable: false),
                    Stays = table.Column<bool>(type: "INTEGER", nullable: false),
                    ToCome = table.Column<bool>(type: "INTEGER", nullable: false),
                    Agrees = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WriteFields", x => new { x.WriteId, x.Field });
                    table.ForeignKey(
                        name: "FK_WriteFields_Writes_WriteId",
                        column: x => x.WriteId,
                        principalTable: "Writes",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_ActsOn_MismatchId",
                table: "ActsOn",
                column: "MismatchId");

            migrationBuilder.CreateIndex(
                name: "IX_Batches_At",
                table: "Batches",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Batches_CoupleId",
                table: "Batches",
                column: "CoupleId");

            migrationBuilder.CreateIndex(
                name: "IX_Counterparts_Kind_SourceId_SourceKey_TargetId",
                table: "Counterparts",
                columns: new[] { "Kind", "SourceId", "SourceKey", "TargetId" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Counterparts_Kind_TargetId_TargetKey",
                table: "Counterparts",
                columns: new[] { "Kind", "TargetId", "TargetKey" });

            migrationBuilder.CreateIndex(
                name: "IX_Couples_HubId_OtherId_Kind",
                table: "Couples",
                columns: new[] { "HubId", "OtherId", "Kind" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_At",
                table: "Decisions",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_BatchId",
                table: "Decisions",
                column: "BatchId");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_CoupleId_HubClaim",
                table: "Decisions",
                columns: new[] { "CoupleId", "HubClaim" },
                unique: true,
                filter: "\"State\" = 'Waiting' AND \"HubClaim\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_CoupleId_OtherClaim",
                table: "Decisions",
                columns: new[] { "CoupleId", "OtherClaim" },
                unique: true,
                filter: "\"State\" = 'Waiting' AND \"OtherClaim\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_CoupleId_State",
                table: "Decisions",
                columns: new[] { "CoupleId", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_CoupleId_ThrownAt",
                table: "Decisions",
                columns: new[] { "CoupleId", "ThrownAt" },
                filter: "\"ThrownAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_DeskActId",
                table: "Decisions",
                column: "DeskActId",
                filter: "\"DeskActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Deliveries_ListenerId",
                table: "Deliveries",
                column: "ListenerId");

            migrationBuilder.CreateIndex(
                name: "IX_Deliveries_MadeAt",
                table: "Deliveries",
                column: "MadeAt");

            migrationBuilder.CreateIndex(
                name: "IX_Deliveries_NextAt",
                table: "Deliveries",
                column: "NextAt",
                filter: "\"NextAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_HookEvents_ReceivedAt",
                table: "HookEvents",
                column: "ReceivedAt");

            migrationBuilder.CreateIndex(
                name: "IX_HookEvents_SystemId_EventId",
                table: "HookEvents",
                columns: new[] { "SystemId", "EventId" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_HookEvents_SystemId_ReadAt",
                table: "HookEvents",
                columns: new[] { "SystemId", "ReadAt" });

            migrationBuilder.CreateIndex(
                name: "IX_JobLanes_JobId",
                table: "JobLanes",
                column: "JobId");

            migrationBuilder.CreateIndex(
                name: "IX_Links_CoupleId_HubKey",
                table: "Links",
                columns: new[] { "CoupleId", "HubKey" });

            migrationBuilder.CreateIndex(
                name: "IX_Links_CoupleId_OtherKey",
                table: "Links",
                columns: new[] { "CoupleId", "OtherKey" },
                unique: true,
                filter: "\"IsKit\" = 0");

            migrationBuilder.CreateIndex(
                name: "IX_Links_CoupleId_OtherKey_HubKey",
                table: "Links",
                columns: new[] { "CoupleId", "OtherKey", "HubKey" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Mails_MadeAt",
                table: "Mails",
                column: "MadeAt");

            migrationBuilder.CreateIndex(
                name: "IX_Mails_NextAt",
                table: "Mails",
                column: "NextAt",
                filter: "\"NextAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Mails_Person",
                table: "Mails",
                column: "Person");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchActs_At",
                table: "MismatchActs",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchActs_By",
                table: "MismatchActs",
                column: "By");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchActs_Learned",
                table: "MismatchActs",
                column: "Learned",
                filter: "\"Learned\" = 1");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchDays_Cause",
                table: "MismatchDays",
                column: "Cause");

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_ActId",
                table: "Mismatches",
                column: "ActId",
                filter: "\"ActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_Cause_SystemId_Kind_Key_Scope",
                table: "Mismatches",
                columns: new[] { "Cause", "SystemId", "Kind", "Key", "Scope" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_EndedAt",
                table: "Mismatches",
                column: "EndedAt",
                filter: "\"EndedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_LaneId_State_Cause_Key",
                table: "Mismatches",
                columns: new[] { "LaneId", "State", "Cause", "Key" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_OpenedAt_State",
                table: "Mismatches",
                columns: new[] { "OpenedAt", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_Origin_State",
                table: "Mismatches",
                columns: new[] { "Origin", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_Cause_Since",
                table: "Mismatches",
                columns: new[] { "State", "Cause", "Since" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_Cause_SystemId_Currency_Worth_Pieces_Since_OtherSystemId_Kind_Owner",
                table: "Mismatches",
                columns: new[] { "State", "Cause", "SystemId", "Currency", "Worth", "Pieces", "Since", "OtherSystemId", "Kind", "Owner" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_EndedAt",
                table: "Mismatches",
                columns: new[] { "State", "EndedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_FirstSeenAt",
                table: "Mismatches",
                columns: new[] { "State", "FirstSeenAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_Until",
                table: "Mismatches",
                columns: new[] { "State", "Until" },
                filter: "\"State\" = 'PutOff'");

            migrationBuilder.CreateIndex(
                name: "IX_OrderDecisions_At",
                table: "OrderDecisions",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_OrderDecisions_DeskActId",
                table: "OrderDecisions",
                column: "DeskActId",
                filter: "\"DeskActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_OrderDecisions_LaneId_OrderKey",
                table: "OrderDecisions",
                columns: new[] { "LaneId", "OrderKey" });

            migrationBuilder.CreateIndex(
                name: "IX_OrderSkus_Sku",
                table: "OrderSkus",
                column: "Sku");

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_LaneId_SourceKey",
                table: "OrderStandings",
                columns: new[] { "LaneId", "SourceKey" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_Number",
                table: "OrderStandings",
                column: "Number");

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_PlacedAt",
                table: "OrderStandings",
                column: "PlacedAt");

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_Stage_Currency_Total_Refunded_UsesDefaultItem",
                table: "OrderStandings",
                columns: new[] { "Stage", "Currency", "Total", "Refunded", "UsesDefaultItem" });

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_Stage_PlacedAt",
                table: "OrderStandings",
                columns: new[] { "Stage", "PlacedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_ProofLines_ProofId_Finding",
                table: "ProofLines",
                columns: new[] { "ProofId", "Finding" });

            migrationBuilder.CreateIndex(
                name: "IX_ProofRounds_Day",
                table: "ProofRounds",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_ProofRounds_StartedAt",
                table: "ProofRounds",
                column: "StartedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Proofs_LaneId_Day",
                table: "Proofs",
                columns: new[] { "LaneId", "Day" });

            migrationBuilder.CreateIndex(
                name: "IX_Proofs_RoundId",
                table: "Proofs",
                column: "RoundId");

            migrationBuilder.CreateIndex(
                name: "IX_Proposals_CoupleId_HubKey",
                table: "Proposals",
                columns: new[] { "CoupleId", "HubKey" });

            migrationBuilder.CreateIndex(
                name: "IX_Proposals_CoupleId_OtherKey",
                table: "Proposals",
                columns: new[] { "CoupleId", "OtherKey" });

            migrationBuilder.CreateIndex(
                name: "IX_Proposals_CoupleId_Verdict_Reference",
                table: "Proposals",
                columns: new[] { "CoupleId", "Verdict", "Reference" });

            migrationBuilder.CreateIndex(
                name: "IX_Reads_StartedAt",
                table: "Reads",
                column: "StartedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Reads_SystemId_Kind",
                table: "Reads",
                columns: new[] { "SystemId", "Kind" },
                unique: true,
                filter: "\"State\" = 'Reading'");

            migrationBuilder.CreateIndex(
                name: "IX_Reads_SystemId_Kind_StartedAt",
                table: "Reads",
                columns: new[] { "SystemId", "Kind", "StartedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Records_AnonymisedAt",
                table: "Records",
                column: "AnonymisedAt",
                filter: "\"AnonymisedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_ChangedAt",
                table: "Records",
                column: "ChangedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Records_GoneAt",
                table: "Records",
                column: "GoneAt",
                filter: "\"GoneAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind",
                table: "Records",
                columns: new[] { "SystemId", "Kind" },
                filter: "\"MissedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_ChangedAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "ChangedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_GoneAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "GoneAt" },
                filter: "\"Problems\" IS NOT NULL AND \"GoneAt\" IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Group",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Group" });

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Key",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Parent",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Parent" });

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Reference_GoneAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Reference", "GoneAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Remarks_RunId",
                table: "Remarks",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_ReservedKeys_At",
                table: "ReservedKeys",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_ReservedKeys_IdempotencyKey",
                table: "ReservedKeys",
                column: "IdempotencyKey",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_RuleVersions_DeskActId",
                table: "RuleVersions",
                column: "DeskActId",
                filter: "\"DeskActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Runs_LaneId",
                table: "Runs",
                column: "LaneId",
                unique: true,
                filter: "\"State\" = 'Working'");

            migrationBuilder.CreateIndex(
                name: "IX_Runs_LaneId_StartedAt",
                table: "Runs",
                columns: new[] { "LaneId", "StartedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Runs_StartedAt",
                table: "Runs",
                column: "StartedAt");

            migrationBuilder.CreateIndex(
                name: "IX_SetAsides_CoupleId_HubKey",
                table: "SetAsides",
                columns: new[] { "CoupleId", "HubKey" },
                unique: true,
                filter: "\"HubKey\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_SetAsides_CoupleId_OtherKey",
                table: "SetAsides",
                columns: new[] { "CoupleId", "OtherKey" },
                unique: true,
                filter: "\"OtherKey\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_StandingCauses_Code",
                table: "StandingCauses",
                column: "Code");

            migrationBuilder.CreateIndex(
                name: "IX_Tries_WriteId",
                table: "Tries",
                column: "WriteId");

            migrationBuilder.CreateIndex(
                name: "IX_Troubles_RunId",
                table: "Troubles",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_Turns_DueAt",
                table: "Turns",
                column: "DueAt");

            migrationBuilder.CreateIndex(
                name: "IX_Turns_JobId",
                table: "Turns",
                column: "JobId",
                unique: true,
                filter: "\"State\" = 'Working'");

            migrationBuilder.CreateIndex(
                name: "IX_Turns_JobId_DueAt",
                table: "Turns",
                columns: new[] { "JobId", "DueAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Turns_Waiting",
                table: "Turns",
                column: "JobId",
                unique: true,
                filter: "\"State\" = 'Waiting'");

            migrationBuilder.CreateIndex(
                name: "IX_TurnSteps_RunId",
                table: "TurnSteps",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_ValueChanges_At",
                table: "ValueChanges",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_ValueChanges_SystemId_Kind_Key_Field",
                table: "ValueChanges",
                columns: new[] { "SystemId", "Kind", "Key", "Field" });

            migrationBuilder.CreateIndex(
                name: "IX_Writes_Fated",
                table: "Writes",
                columns: new[] { "RunId", "State" },
                filter: "\"Fate_Code\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_Guarded",
                table: "Writes",
                columns: new[] { "RunId", "State" },
                filter: "\"Guards\" <> ''");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes",
                column: "IdempotencyKey");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_Open",
                table: "Writes",
                column: "RunId",
                filter: "\"State\" IN ('Unknown', 'Sent')");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId",
                table: "Writes",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId_Reference",
                table: "Writes",
                columns: new[] { "RunId", "Reference" });

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId_State_Kind",
                table: "Writes",
                columns: new[] { "RunId", "State", "Kind" });

            migrationBuilder.CreateIndex(
                name: "IX_Writes_SentAt_State",
                table: "Writes",
                columns: new[] { "SentAt", "State" },
                filter: "\"SentAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_SourceKey",
                table: "Writes",
                column: "SourceKey",
                filter: "\"Act\" = 'Create'");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_TakenBack",
                table: "Writes",
                columns: new[] { "RunId", "State" },
                filter: "\"TakenBackIn\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_TargetKey",
                table: "Writes",
                column: "TargetKey");

            migrationBuilder.Sql(Upgrading.BesideTheModel.Made);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(Upgrading.BesideTheModel.Gone);

            migrationBuilder.DropTable(
                name: "ActsOn");

            migrationBuilder.DropTable(
                name: "Agreed");

            migrationBuilder.DropTable(
                name: "Batches");

            migrationBuilder.DropTable(
                name: "Colleagues");

            migrationBuilder.DropTable(
                name: "Counterparts");

            migrationBuilder.DropTable(
                name: "Couples");

            migrationBuilder.DropTable(
                name: "DaysOff");

            migrationBuilder.DropTable(
                name: "Decisions");

            migrationBuilder.DropTable(
                name: "Deliveries");

            migrationBuilder.DropTable(
                name: "DescriptionVersions");

            migrationBuilder.DropTable(
                name: "Drafts");

            migrationBuilder.DropTable(
                name: "HookEvents");

            migrationBuilder.DropTable(
                name: "JobLanes");

            migrationBuilder.DropTable(
                name: "KeptOff");

            migrationBuilder.DropTable(
                name: "Lanes");

            migrationBuilder.DropTable(
                name: "Links");

            migrationBuilder.DropTable(
                name: "Listeners");

            migrationBuilder.DropTable(
                name: "Mails");

            migrationBuilder.DropTable(
                name: "MailServers");

            migrationBuilder.DropTable(
                name: "MetServers");

            migrationBuilder.DropTable(
                name: "MismatchActs");

            migrationBuilder.DropTable(
                name: "MismatchDays");

            migrationBuilder.DropTable(
                name: "Mismatches");

            migrationBuilder.DropTable(
                name: "OrderDecisions");

            migrationBuilder.DropTable(
                name: "OrderGoods");

            migrationBuilder.DropTable(
                name: "OrderSkus");

            migrationBuilder.DropTable(
                name: "Parents");

            migrationBuilder.DropTable(
                name: "ProofLines");

            migrationBuilder.DropTable(
                name: "ProofRounds");

            migrationBuilder.DropTable(
                name: "Proofs");

            migrationBuilder.DropTable(
                name: "Proposals");

            migrationBuilder.DropTable(
                name: "ReadPages");

            migrationBuilder.DropTable(
                name: "Reads");

            migrationBuilder.DropTable(
                name: "Records");

            migrationBuilder.DropTable(
                name: "Remarks");

            migrationBuilder.DropTable(
                name: "ReservedKeys");

            migrationBuilder.DropTable(
                name: "RuleVersions");

            migrationBuilder.DropTable(
                name: "Runs");

            migrationBuilder.DropTable(
                name: "SetAsides");

            migrationBuilder.DropTable(
                name: "StandingCauses");

            migrationBuilder.DropTable(
                name: "Systems");

            migrationBuilder.DropTable(
                name: "Told");

            migrationBuilder.DropTable(
                name: "Tries");

            migrationBuilder.DropTable(
                name: "Troubles");

            migrationBuilder.DropTable(
                name: "TurnSteps");

            migrationBuilder.DropTable(
                name: "ValueChanges");

            migrationBuilder.DropTable(
                name: "Wishes");

            migrationBuilder.DropTable(
                name: "Workspaces");

            migrationBuilder.DropTable(
                name: "WriteFields");

            migrationBuilder.DropTable(
                name: "Jobs");

            migrationBuilder.DropTable(
                name: "OrderStandings");

            migrationBuilder.DropTable(
                name: "Turns");

            migrationBuilder.DropTable(
                name: "Writes");
        }
    }
}
