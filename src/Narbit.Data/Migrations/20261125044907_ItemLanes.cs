using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class ItemLanes : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Act",
                table: "Writes",
                type: "TEXT",
                nullable: false,
                defaultValue: "Update");

            migrationBuilder.AddColumn<string>(
                name: "Group",
                table: "Writes",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Guards",
                table: "Writes",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "ParentKey",
                table: "Writes",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "TakenBackIn",
                table: "Writes",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "ToSource",
                table: "Writes",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "Chosen",
                table: "Runs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "RollsBack",
                table: "Runs",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Tripped",
                table: "Runs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Guards",
                table: "RuleVersions",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "Off",
                table: "Lanes",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.CreateTable(
                name: "KeptOff",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    HubKey = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_KeptOff", x => new { x.LaneId, x.HubKey });
                });

            migrationBuilder.CreateTable(
                name: "ValueChanges",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Field = table.Column<string>(type: "TEXT", nullable: false),
                    Old = table.Column<string>(type: "TEXT", nullable: true),
                    New = table.Column<string>(type: "TEXT", nullable: true),
                    At = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ValueChanges", x => x.Id);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Writes_TargetKey",
                table: "Writes",
                column: "TargetKey");

            migrationBuilder.CreateIndex(
                name: "IX_ValueChanges_SystemId_Kind_Key_Field",
                table: "ValueChanges",
                columns: new[] { "SystemId", "Kind", "Key", "Field" });

            // The database notes by itself what changed in an item, so that no way of writing the mirror can forget to.
            migrationBuilder.Sql(
                """
                CREATE TRIGGER Records_ValueChanges AFTER UPDATE OF "Values" ON Records
                WHEN new.Kind = 'Item' AND old."Values" <> new."Values"
                BEGIN
                    INSERT INTO ValueChanges (SystemId, Kind, Key, Field, Old, New, At)
                    SELECT new.SystemId, new.Kind, new.Key, n.key, o.value, n.value, new.ChangedAt
                    FROM json_each(new."Values") n LEFT JOIN json_each(old."Values") o ON o.key = n.key
                    WHERE o.value IS NOT n.value
                    UNION ALL
                    SELECT new.SystemId, new.Kind, new.Key, o.key, o.value, NULL, new.ChangedAt
                    FROM json_each(old."Values") o
                    WHERE NOT EXISTS (SELECT 1 FROM json_each(new."Values") n WHERE n.key = o.key);
                END
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("DROP TRIGGER Records_ValueChanges");

            migrationBuilder.DropTable(
                name: "KeptOff");

            migrationBuilder.DropTable(
                name: "ValueChanges");

            migrationBuilder.DropIndex(
                name: "IX_Writes_TargetKey",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "Act",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "Group",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "Guards",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "ParentKey",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "TakenBackIn",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "ToSource",
                table: "Writes");

            migrationBuilder.DropColumn(
                name: "Chosen",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "RollsBack",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "Tripped",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "Guards",
                table: "RuleVersions");

            migrationBuilder.DropColumn(
                name: "Off",
                table: "Lanes");
        }
    }
}
