using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class WorkspaceForms : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Dates",
                table: "Workspaces",
                type: "TEXT",
                nullable: false,
                defaultValue: "DayFirst");

            migrationBuilder.AddColumn<string>(
                name: "FirstDay",
                table: "Workspaces",
                type: "TEXT",
                nullable: false,
                defaultValue: "Monday");

            migrationBuilder.AddColumn<string>(
                name: "Numbers",
                table: "Workspaces",
                type: "TEXT",
                nullable: false,
                defaultValue: "Point");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Dates",
                table: "Workspaces");

            migrationBuilder.DropColumn(
                name: "FirstDay",
                table: "Workspaces");

            migrationBuilder.DropColumn(
                name: "Numbers",
                table: "Workspaces");
        }
    }
}
