using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Search : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateIndex(
                name: "IX_Records_ChangedAt",
                table: "Records",
                column: "ChangedAt");

            // The words by which records are found; filled behind the readings, and from what is there at the next start.
            migrationBuilder.Sql(
                """
                CREATE VIRTUAL TABLE RecordWords USING fts5(Words, tokenize='trigram', content='', contentless_delete=1);
                CREATE VIRTUAL TABLE RecordTrigrams USING fts5vocab('RecordWords', 'row');
                CREATE TABLE RecordWordsUpTo (At INTEGER NOT NULL);
                INSERT INTO RecordWordsUpTo (At) VALUES (0);
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("DROP TABLE RecordWordsUpTo; DROP TABLE RecordTrigrams; DROP TABLE RecordWords;");

            migrationBuilder.DropIndex(
                name: "IX_Records_ChangedAt",
                table: "Records");
        }
    }
}
