using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class ListsBefore : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "ChildrenBefore",
                table: "Writes",
                type: "TEXT",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "ChildrenBefore",
                table: "Writes");
        }
    }
}
