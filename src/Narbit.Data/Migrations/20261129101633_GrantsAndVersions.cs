using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class GrantsAndVersions : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "GrantLostWhy",
                table: "Systems",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "GrantedAt",
                table: "Systems",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "ProtectedGrant",
                table: "Systems",
                type: "TEXT",
                nullable: true);

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
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "DescriptionVersions");

            migrationBuilder.DropColumn(
                name: "GrantLostWhy",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "GrantedAt",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "ProtectedGrant",
                table: "Systems");
        }
    }
}
