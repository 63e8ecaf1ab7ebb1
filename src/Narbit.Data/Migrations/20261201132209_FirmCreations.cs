using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class FirmCreations : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes",
                column: "IdempotencyKey");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_Open",
                table: "Writes",
                column: "RunId",
                filter: "\"State\" IN ('Unknown', 'Sent')");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_SourceKey",
                table: "Writes",
                column: "SourceKey",
                filter: "\"Act\" = 'Create'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes");

            migrationBuilder.DropIndex(
                name: "IX_Writes_Open",
                table: "Writes");

            migrationBuilder.DropIndex(
                name: "IX_Writes_SourceKey",
                table: "Writes");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes",
                column: "IdempotencyKey",
                unique: true);
        }
    }
}
