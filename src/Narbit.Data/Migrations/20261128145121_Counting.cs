using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Counting : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind_Reference",
                table: "Records");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_GoneAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "GoneAt" },
                filter: "\"Problems\" IS NOT NULL AND \"GoneAt\" IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Reference_GoneAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Reference", "GoneAt" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind_GoneAt",
                table: "Records");

            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind_Reference_GoneAt",
                table: "Records");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_Reference",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "Reference" });
        }
    }
}
