using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Removal : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "PausedAt",
                table: "Systems",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "PausedBy",
                table: "Systems",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "RemovedAt",
                table: "Systems",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "RemovedAt",
                table: "Lanes",
                type: "INTEGER",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "PausedAt",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "PausedBy",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "RemovedAt",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "RemovedAt",
                table: "Lanes");
        }
    }
}
