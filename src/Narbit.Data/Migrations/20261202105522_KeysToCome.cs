using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class KeysToCome : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "ToCome",
                table: "WriteFields",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            // Of a run that is not over, what refers to a record that is still to be made says so from now on.
            migrationBuilder.Sql(
                """
                UPDATE WriteFields SET ToCome = 1, New = substr(New, 2)
                WHERE substr(New, 1, 1) = '+' AND EXISTS (
                    SELECT 1 FROM Writes w JOIN Writes m ON m.RunId = w.RunId
                    WHERE w.Id = WriteFields.WriteId AND m.Act = 'Create' AND m.TargetKey = WriteFields.New);
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "ToCome",
                table: "WriteFields");
        }
    }
}
