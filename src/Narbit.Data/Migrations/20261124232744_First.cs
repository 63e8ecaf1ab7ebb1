using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "Agreed",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: false),
                    Field = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<string>(type: "TEXT", nullable: true),
                    Source = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Agreed", x => new { x.LaneId, x.TargetKey, x.Field });
                });

            migrationBuilder.CreateTable(
                name: "Lanes",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    SourceId = table.Column<string>(type: "TEXT", nullable: false),
                    TargetId = table.Column<string>(type: "TEXT", nullable: false),
                    SkuStartsWith = table.Column<string>(type: "TEXT", nullable: true),
                    PublishedOnly = table.Column<bool>(type: "INTEGER", nullable: false),
                    RuleNumber = table.Column<int>(type: "INTEGER", nullable: false),
                    EveryMinutes = table.Column<int>(type: "INTEGER", nullable: true),
                    Paused = table.Column<bool>(type: "INTEGER", nullable: false),
                    NextDueAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ComparedRunId = table.Column<long>(type: "INTEGER", nullable: true),
                    ComparedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Paired = table.Column<int>(type: "INTEGER", nullable: false),
                    InStep = table.Column<int>(type: "INTEGER", nullable: false),
                    Waiting = table.Column<int>(type: "INTEGER", nullable: false),
                    OutOfStep = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Lanes", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Pairs",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    HubId = table.Column<string>(type: "TEXT", nullable: false),
                    OtherId = table.Column<string>(type: "TEXT", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    Verdict = table.Column<string>(type: "TEXT", nullable: false),
                    Evidence = table.Column<string>(type: "TEXT", nullable: false),
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Pairs", x => x.Id);
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
                    Message = table.Column<string>(type: "TEXT", nullable: true)
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
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true),
                    Hash = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Raw = table.Column<string>(type: "TEXT", nullable: false),
                    Values = table.Column<string>(type: "TEXT", nullable: false),
                    Problems = table.Column<string>(type: "TEXT", nullable: true),
                    ChangedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    GoneAt = table.Column<long>(type: "INTEGER", nullable: true)
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
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: true),
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    Message = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Remarks", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "RuleVersions",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Number = table.Column<int>(type: "INTEGER", nullable: false),
                    Document = table.Column<string>(type: "TEXT", nullable: false),
                    Author = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: true)
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
                    Message = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Runs", x => x.Id);
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
                    MayRead = table.Column<bool>(type: "INTEGER", nullable: false),
                    MayWrite = table.Column<bool>(type: "INTEGER", nullable: false),
                    TestedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    TestOk = table.Column<bool>(type: "INTEGER", nullable: true),
                    TestMessage = table.Column<string>(type: "TEXT", nullable: true),
                    Revision = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Systems", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Workspaces",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    TimeZone = table.Column<string>(type: "TEXT", nullable: false),
                    HubId = table.Column<string>(type: "TEXT", nullable: false),
                    Person = table.Column<string>(type: "TEXT", nullable: false)
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
                    HubKey = table.Column<string>(type: "TEXT", nullable: false),
                    TargetKey = table.Column<string>(type: "TEXT", nullable: false),
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    HoldReason = table.Column<string>(type: "TEXT", nullable: true),
                    Move = table.Column<double>(type: "REAL", nullable: true),
                    IdempotencyKey = table.Column<string>(type: "TEXT", nullable: false),
                    Attempts = table.Column<int>(type: "INTEGER", nullable: false),
                    Message = table.Column<string>(type: "TEXT", nullable: true),
                    SentAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ConfirmedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Source = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Writes", x => x.Id);
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
                    Trace = table.Column<string>(type: "TEXT", nullable: true)
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
                name: "IX_Pairs_HubId_OtherId_OtherKey",
                table: "Pairs",
                columns: new[] { "HubId", "OtherId", "OtherKey" },
                unique: true,
                filter: "\"OtherKey\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Pairs_HubId_OtherId_Verdict_Sku",
                table: "Pairs",
                columns: new[] { "HubId", "OtherId", "Verdict", "Sku" });

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
                name: "IX_Records_SystemId_Kind_Key",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Parent",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Parent" });

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Sku",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Sku" });

            migrationBuilder.CreateIndex(
                name: "IX_Remarks_RunId_Cause",
                table: "Remarks",
                columns: new[] { "RunId", "Cause" });

            migrationBuilder.CreateIndex(
                name: "IX_Runs_LaneId",
                table: "Runs",
                column: "LaneId",
                unique: true,
                filter: "\"State\" = 'Working'");

            migrationBuilder.CreateIndex(
                name: "IX_Runs_StartedAt",
                table: "Runs",
                column: "StartedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes",
                column: "IdempotencyKey",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId_Sku",
                table: "Writes",
                columns: new[] { "RunId", "Sku" });

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId_State",
                table: "Writes",
                columns: new[] { "RunId", "State" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Agreed");

            migrationBuilder.DropTable(
                name: "Lanes");

            migrationBuilder.DropTable(
                name: "Pairs");

            migrationBuilder.DropTable(
                name: "ReadPages");

            migrationBuilder.DropTable(
                name: "Reads");

            migrationBuilder.DropTable(
                name: "Records");

            migrationBuilder.DropTable(
                name: "Remarks");

            migrationBuilder.DropTable(
                name: "RuleVersions");

            migrationBuilder.DropTable(
                name: "Runs");

            migrationBuilder.DropTable(
                name: "Systems");

            migrationBuilder.DropTable(
                name: "Workspaces");

            migrationBuilder.DropTable(
                name: "WriteFields");

            migrationBuilder.DropTable(
                name: "Writes");
        }
    }
}
