using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Events : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "AnonymiseAfterDays",
                table: "Workspaces",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "HookSecretAt",
                table: "Systems",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "ProtectedHookSecret",
                table: "Systems",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "ProtectedHookSecretBefore",
                table: "Systems",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "AnonymisedAt",
                table: "Records",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Goods",
                table: "OrderStandings",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

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
                    ReadAt = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HookEvents", x => x.Id);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Records_AnonymisedAt",
                table: "Records",
                column: "AnonymisedAt",
                filter: "\"AnonymisedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_HookEvents_SystemId_EventId",
                table: "HookEvents",
                columns: new[] { "SystemId", "EventId" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_HookEvents_SystemId_ReadAt",
                table: "HookEvents",
                columns: new[] { "SystemId", "ReadAt" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "HookEvents");

            migrationBuilder.DropIndex(
                name: "IX_Records_AnonymisedAt",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "AnonymiseAfterDays",
                table: "Workspaces");

            migrationBuilder.DropColumn(
                name: "HookSecretAt",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "ProtectedHookSecret",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "ProtectedHookSecretBefore",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "AnonymisedAt",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "Goods",
                table: "OrderStandings");
        }
    }
}
