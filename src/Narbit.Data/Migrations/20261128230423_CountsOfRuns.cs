using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class CountsOfRuns : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Writes_RunId_State",
                table: "Writes");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_Fated",
                table: "Writes",
                columns: new[] { "RunId", "State" },
                filter: "\"Fate_Code\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_Guarded",
                table: "Writes",
                columns: new[] { "RunId", "State" },
                filter: "\"Guards\" <> ''");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId",
                table: "Writes",
                column: "RunId");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId_State_Kind",
                table: "Writes",
                columns: new[] { "RunId", "State", "Kind" });

            migrationBuilder.CreateIndex(
                name: "IX_Writes_SentAt_State",
                table: "Writes",
                columns: new[] { "SentAt", "State" },
                filter: "\"SentAt\" IS NOT NULL");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Writes_Fated",
                table: "Writes");

            migrationBuilder.DropIndex(
                name: "IX_Writes_Guarded",
                table: "Writes");

            migrationBuilder.DropIndex(
                name: "IX_Writes_RunId",
                table: "Writes");

            migrationBuilder.DropIndex(
                name: "IX_Writes_RunId_State_Kind",
                table: "Writes");

            migrationBuilder.DropIndex(
                name: "IX_Writes_SentAt_State",
                table: "Writes");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_RunId_State",
                table: "Writes",
                columns: new[] { "RunId", "State" });
        }
    }
}
