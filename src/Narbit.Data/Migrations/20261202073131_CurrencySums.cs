using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class CurrencySums : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_OrderStandings_Stage_Total_Refunded_UsesDefaultItem",
                table: "OrderStandings");

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_Stage_Currency_Total_Refunded_UsesDefaultItem",
                table: "OrderStandings",
                columns: new[] { "Stage", "Currency", "Total", "Refunded", "UsesDefaultItem" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_OrderStandings_Stage_Currency_Total_Refunded_UsesDefaultItem",
                table: "OrderStandings");

            migrationBuilder.CreateIndex(
                name: "IX_OrderStandings_Stage_Total_Refunded_UsesDefaultItem",
                table: "OrderStandings",
                columns: new[] { "Stage", "Total", "Refunded", "UsesDefaultItem" });
        }
    }
}
