using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class OrderParts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "OrderGoods",
                columns: table => new
                {
                    StandingId = table.Column<long>(type: "INTEGER", nullable: false),
                    Item = table.Column<string>(type: "TEXT", nullable: false),
                    Pieces = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderGoods", x => new { x.StandingId, x.Item });
                    table.ForeignKey(
                        name: "FK_OrderGoods_OrderStandings_StandingId",
                        column: x => x.StandingId,
                        principalTable: "OrderStandings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "OrderSkus",
                columns: table => new
                {
                    StandingId = table.Column<long>(type: "INTEGER", nullable: false),
                    Sku = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OrderSkus", x => new { x.StandingId, x.Sku });
                    table.ForeignKey(
                        name: "FK_OrderSkus_OrderStandings_StandingId",
                        column: x => x.StandingId,
                        principalTable: "OrderStandings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "StandingCauses",
                columns: table => new
                {
                    StandingId = table.Column<long>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Outcome = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: true),
                    Line = table.Column<string>(type: "TEXT", nullable: true),
                    Values = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StandingCauses", x => new { x.StandingId, x.Position });
                    table.ForeignKey(
                        name: "FK_StandingCauses_OrderStandings_StandingId",
                        column: x => x.StandingId,
                        principalTable: "OrderStandings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_OrderSkus_Sku",
                table: "OrderSkus",
                column: "Sku");

            migrationBuilder.CreateIndex(
                name: "IX_StandingCauses_Code",
                table: "StandingCauses",
                column: "Code");

            // What was packed into texts becomes rows. Words were made by an earlier version, and stay its own until the next run.
            migrationBuilder.Sql(
                """
                WITH RECURSIVE Part (Id, One, Rest) AS (
                    SELECT Id, '', trim(Skus) || ' ' FROM OrderStandings WHERE trim(Skus) <> ''
                    UNION ALL
                    SELECT Id, substr(Rest, 1, instr(Rest, ' ') - 1), substr(Rest, instr(Rest, ' ') + 1) FROM Part WHERE Rest <> ''
                )
                INSERT OR IGNORE INTO OrderSkus (StandingId, Sku) SELECT Id, One FROM Part WHERE One <> '';
                """);
            migrationBuilder.Sql(
                """
                WITH RECURSIVE Part (Id, One, Rest) AS (
                    SELECT Id, '', trim(Goods) || ' ' FROM OrderStandings WHERE trim(Goods) <> ''
                    UNION ALL
                    SELECT Id, substr(Rest, 1, instr(Rest, ' ') - 1), substr(Rest, instr(Rest, ' ') + 1) FROM Part WHERE Rest <> ''
                )
                INSERT OR IGNORE INTO OrderGoods (StandingId, Item, Pieces)
                SELECT Id, substr(One, 1, instr(One, '×') - 1), CAST(substr(One, instr(One, '×') + 1) AS INTEGER)
                FROM Part WHERE instr(One, '×') > 1;
                """);
            migrationBuilder.Sql(
                """
                INSERT INTO StandingCauses (StandingId, Position, Code, Outcome, Subject, "Values")
                SELECT o.Id, c.key, json_extract(c.value, '$.Code'), CASE o.Stage WHEN 'Waiting' THEN 'Wait' ELSE 'Hold' END,
                    json_extract(c.value, '$.Subject'),
                    json_patch('{}', json_object('title', json_extract(c.value, '$.Hint'), 'why', json_extract(c.value, '$.Words')))
                FROM OrderStandings o, json_each(o.Details) c
                WHERE o.Details <> '';
                """);
            migrationBuilder.Sql(
                """
                INSERT INTO StandingCauses (StandingId, Position, Code, Outcome, "Values")
                SELECT Id, 0, substr(trim(Causes), 1, instr(trim(Causes) || ' ', ' ') - 1),
                    CASE Stage WHEN 'Waiting' THEN 'Wait' ELSE 'Hold' END, json_object('why', coalesce(Words, trim(Causes)))
                FROM OrderStandings WHERE Details = '' AND trim(Causes) <> '';
                """);
            migrationBuilder.Sql("UPDATE OrderStandings SET Skus = ''");

            migrationBuilder.DropColumn(
                name: "Causes",
                table: "OrderStandings");

            migrationBuilder.DropColumn(
                name: "Details",
                table: "OrderStandings");

            migrationBuilder.DropColumn(
                name: "Goods",
                table: "OrderStandings");

            migrationBuilder.DropColumn(
                name: "Words",
                table: "OrderStandings");

            migrationBuilder.RenameColumn(
                name: "Skus",
                table: "OrderStandings",
                newName: "Fingerprint");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "OrderGoods");

            migrationBuilder.DropTable(
                name: "OrderSkus");

            migrationBuilder.DropTable(
                name: "StandingCauses");

            migrationBuilder.RenameColumn(
                name: "Fingerprint",
                table: "OrderStandings",
                newName: "Skus");

            migrationBuilder.AddColumn<string>(
                name: "Causes",
                table: "OrderStandings",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Details",
                table: "OrderStandings",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Goods",
                table: "OrderStandings",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Words",
                table: "OrderStandings",
                type: "TEXT",
                nullable: true);
        }
    }
}
