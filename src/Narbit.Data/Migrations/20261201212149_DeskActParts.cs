using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class DeskActParts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "DeskActId",
                table: "RuleVersions",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "DeskActId",
                table: "OrderDecisions",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "IX_RuleVersions_DeskActId",
                table: "RuleVersions",
                column: "DeskActId",
                filter: "\"DeskActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_OrderDecisions_DeskActId",
                table: "OrderDecisions",
                column: "DeskActId",
                filter: "\"DeskActId\" IS NOT NULL");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_RuleVersions_DeskActId",
                table: "RuleVersions");

            migrationBuilder.DropIndex(
                name: "IX_OrderDecisions_DeskActId",
                table: "OrderDecisions");

            migrationBuilder.DropColumn(
                name: "DeskActId",
                table: "RuleVersions");

            migrationBuilder.DropColumn(
                name: "DeskActId",
                table: "OrderDecisions");
        }
    }
}
