using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Proofs : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropPrimaryKey(
                name: "PK_Wishes",
                table: "Wishes");

            migrationBuilder.DropIndex(
                name: "IX_Mismatches_LaneId_State_Cause",
                table: "Mismatches");

            migrationBuilder.AddColumn<string>(
                name: "ProvedAt",
                table: "Workspaces",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Cause",
                table: "Wishes",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "CredentialEndsOn",
                table: "Systems",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "Untracked",
                table: "OrderStandings",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddPrimaryKey(
                name: "PK_Wishes",
                table: "Wishes",
                columns: new[] { "Person", "Harm", "Cause" });

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

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_LaneId_State_Cause_Key",
                table: "Mismatches",
                columns: new[] { "LaneId", "State", "Cause", "Key" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_EndedAt",
                table: "Mismatches",
                columns: new[] { "State", "EndedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_FirstSeenAt",
                table: "Mismatches",
                columns: new[] { "State", "FirstSeenAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Deliveries_ListenerId",
                table: "Deliveries",
                column: "ListenerId");

            migrationBuilder.CreateIndex(
                name: "IX_Deliveries_NextAt",
                table: "Deliveries",
                column: "NextAt",
                filter: "\"NextAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_ProofLines_ProofId_Finding",
                table: "ProofLines",
                columns: new[] { "ProofId", "Finding" });

            migrationBuilder.CreateIndex(
                name: "IX_Proofs_LaneId_Day",
                table: "Proofs",
                columns: new[] { "LaneId", "Day" });

            migrationBuilder.CreateIndex(
                name: "IX_Proofs_RoundId",
                table: "Proofs",
                column: "RoundId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Deliveries");

            migrationBuilder.DropTable(
                name: "Listeners");

            migrationBuilder.DropTable(
                name: "ProofLines");

            migrationBuilder.DropTable(
                name: "ProofRounds");

            migrationBuilder.DropTable(
                name: "Proofs");

            migrationBuilder.DropPrimaryKey(
                name: "PK_Wishes",
                table: "Wishes");

            migrationBuilder.DropIndex(
                name: "IX_Mismatches_LaneId_State_Cause_Key",
                table: "Mismatches");

            migrationBuilder.DropIndex(
                name: "IX_Mismatches_State_EndedAt",
                table: "Mismatches");

            migrationBuilder.DropIndex(
                name: "IX_Mismatches_State_FirstSeenAt",
                table: "Mismatches");

            migrationBuilder.DropColumn(
                name: "ProvedAt",
                table: "Workspaces");

            migrationBuilder.DropColumn(
                name: "Cause",
                table: "Wishes");

            migrationBuilder.DropColumn(
                name: "CredentialEndsOn",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "Untracked",
                table: "OrderStandings");

            migrationBuilder.AddPrimaryKey(
                name: "PK_Wishes",
                table: "Wishes",
                columns: new[] { "Person", "Harm" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_LaneId_State_Cause",
                table: "Mismatches",
                columns: new[] { "LaneId", "State", "Cause" });
        }
    }
}
