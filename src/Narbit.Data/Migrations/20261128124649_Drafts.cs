using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Drafts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "ThrownAt",
                table: "Decisions",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "ThrownBy",
                table: "Decisions",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "WayBefore",
                table: "Batches",
                type: "TEXT",
                nullable: true);

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

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_CoupleId_ThrownAt",
                table: "Decisions",
                columns: new[] { "CoupleId", "ThrownAt" },
                filter: "\"ThrownAt\" IS NOT NULL");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Drafts");

            migrationBuilder.DropIndex(
                name: "IX_Decisions_CoupleId_ThrownAt",
                table: "Decisions");

            migrationBuilder.DropColumn(
                name: "ThrownAt",
                table: "Decisions");

            migrationBuilder.DropColumn(
                name: "ThrownBy",
                table: "Decisions");

            migrationBuilder.DropColumn(
                name: "WayBefore",
                table: "Batches");
        }
    }
}
