using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Traffic : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "LimitWaitedMs",
                table: "Runs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<int>(
                name: "Lost",
                table: "Runs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<long>(
                name: "RepeatWaitedMs",
                table: "Runs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<int>(
                name: "Repeats",
                table: "Runs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "Requests",
                table: "Runs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<long>(
                name: "WorkedMs",
                table: "Runs",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

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

            migrationBuilder.CreateIndex(
                name: "IX_Tries_WriteId",
                table: "Tries",
                column: "WriteId");

            migrationBuilder.CreateIndex(
                name: "IX_Troubles_RunId",
                table: "Troubles",
                column: "RunId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Tries");

            migrationBuilder.DropTable(
                name: "Troubles");

            migrationBuilder.DropColumn(
                name: "LimitWaitedMs",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "Lost",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "RepeatWaitedMs",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "Repeats",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "Requests",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "WorkedMs",
                table: "Runs");
        }
    }
}
