using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Orders : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Record",
                table: "Writes",
                type: "TEXT",
                nullable: false,
                defaultValue: "Item");

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
                    Skus = table.Column<string>(type: "TEXT", nullable: false),
                    Total = table.Column<double>(type: "REAL", nullable: false),
                    Currency = table.Column<string>(type: "TEXT", nullable: true),
                    Stage = table.Column<string>(type: "TEXT", nullable: false),
                    Causes = table.Column<string>(type: "TEXT", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: true),
                    Refunded = table.Column<double>(type: "REAL", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: true),
                    UsesDefaultItem = table.Column<bool>(type: "INTEGER", nullable: false),
                    ComputedAt = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderStandings", x => x.Id);
                });

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
                name: "IX_OrderStandings_Stage_PlacedAt",
                table: "OrderStandings",
                columns: new[] { "Stage", "PlacedAt" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Counterparts");

            migrationBuilder.DropTable(
                name: "OrderStandings");

            migrationBuilder.DropColumn(
                name: "Record",
                table: "Writes");
        }
    }
}
