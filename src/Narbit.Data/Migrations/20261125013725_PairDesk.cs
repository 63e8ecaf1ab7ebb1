using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class PairDesk : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Pairs");

            migrationBuilder.AddColumn<long>(
                name: "HeldAt",
                table: "Lanes",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "HeldBy",
                table: "Lanes",
                type: "TEXT",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "Batches",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: true),
                    Decisions = table.Column<int>(type: "INTEGER", nullable: false),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true),
                    UndoneAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Batches", x => x.Id);
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
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true),
                    HubClaim = table.Column<string>(type: "TEXT", nullable: true),
                    OtherClaim = table.Column<string>(type: "TEXT", nullable: true),
                    Before = table.Column<string>(type: "TEXT", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Decisions", x => x.Id);
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
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true),
                    Causes = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Proposals", x => x.Id);
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

            migrationBuilder.CreateIndex(
                name: "IX_Batches_CoupleId",
                table: "Batches",
                column: "CoupleId");

            migrationBuilder.CreateIndex(
                name: "IX_Couples_HubId_OtherId_Kind",
                table: "Couples",
                columns: new[] { "HubId", "OtherId", "Kind" },
                unique: true);

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
                name: "IX_Proposals_CoupleId_HubKey",
                table: "Proposals",
                columns: new[] { "CoupleId", "HubKey" });

            migrationBuilder.CreateIndex(
                name: "IX_Proposals_CoupleId_OtherKey",
                table: "Proposals",
                columns: new[] { "CoupleId", "OtherKey" });

            migrationBuilder.CreateIndex(
                name: "IX_Proposals_CoupleId_Verdict_Sku",
                table: "Proposals",
                columns: new[] { "CoupleId", "Verdict", "Sku" });

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

            // Systems that were in step already stay so: their certain pairs are linked again at the next run.
            migrationBuilder.Sql("INSERT INTO Couples (HubId, OtherId, Kind, AcceptsCertain, Way) SELECT DISTINCT SourceId, TargetId, 'Item', 1, 'TakeOver' FROM Lanes");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Batches");

            migrationBuilder.DropTable(
                name: "Couples");

            migrationBuilder.DropTable(
                name: "Decisions");

            migrationBuilder.DropTable(
                name: "Links");

            migrationBuilder.DropTable(
                name: "Proposals");

            migrationBuilder.DropTable(
                name: "SetAsides");

            migrationBuilder.DropColumn(
                name: "HeldAt",
                table: "Lanes");

            migrationBuilder.DropColumn(
                name: "HeldBy",
                table: "Lanes");

            migrationBuilder.CreateTable(
                name: "Pairs",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Evidence = table.Column<string>(type: "TEXT", nullable: false),
                    HubId = table.Column<string>(type: "TEXT", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    OtherId = table.Column<string>(type: "TEXT", nullable: false),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    Sku = table.Column<string>(type: "TEXT", nullable: true),
                    Title = table.Column<string>(type: "TEXT", nullable: true),
                    Verdict = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Pairs", x => x.Id);
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
        }
    }
}
