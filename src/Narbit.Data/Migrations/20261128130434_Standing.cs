using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Standing : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "InStep",
                table: "Lanes");

            migrationBuilder.DropColumn(
                name: "OutOfStep",
                table: "Lanes");

            migrationBuilder.DropColumn(
                name: "Paired",
                table: "Lanes");

            migrationBuilder.DropColumn(
                name: "Waiting",
                table: "Lanes");

            migrationBuilder.CreateTable(
                name: "Causes",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Since = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Causes", x => new { x.LaneId, x.Code });
                });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Causes");

            migrationBuilder.AddColumn<int>(
                name: "InStep",
                table: "Lanes",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "OutOfStep",
                table: "Lanes",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "Paired",
                table: "Lanes",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "Waiting",
                table: "Lanes",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);
        }
    }
}
