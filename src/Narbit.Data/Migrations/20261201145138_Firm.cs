using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Firm : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes");

            migrationBuilder.AddColumn<bool>(
                name: "ReadsWholeDaily",
                table: "Systems",
                type: "INTEGER",
                nullable: false,
                defaultValue: true);

            migrationBuilder.AddColumn<string>(
                name: "Basis",
                table: "Runs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "MissedAt",
                table: "Records",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "AsOf",
                table: "Reads",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "Moved",
                table: "Reads",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<long>(
                name: "NewestChange",
                table: "Reads",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Unkept",
                table: "Reads",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "UnkeptFirst",
                table: "Reads",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Fault",
                table: "HookEvents",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "NextAt",
                table: "HookEvents",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "SetAsideAt",
                table: "HookEvents",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Tries",
                table: "HookEvents",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

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

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind",
                table: "Records",
                columns: new[] { "SystemId", "Kind" },
                filter: "\"MissedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_ChangedAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "ChangedAt" });
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

            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind",
                table: "Records");

            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind_ChangedAt",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "ReadsWholeDaily",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "Basis",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "MissedAt",
                table: "Records");

            migrationBuilder.DropColumn(
                name: "AsOf",
                table: "Reads");

            migrationBuilder.DropColumn(
                name: "Moved",
                table: "Reads");

            migrationBuilder.DropColumn(
                name: "NewestChange",
                table: "Reads");

            migrationBuilder.DropColumn(
                name: "Unkept",
                table: "Reads");

            migrationBuilder.DropColumn(
                name: "UnkeptFirst",
                table: "Reads");

            migrationBuilder.DropColumn(
                name: "Fault",
                table: "HookEvents");

            migrationBuilder.DropColumn(
                name: "NextAt",
                table: "HookEvents");

            migrationBuilder.DropColumn(
                name: "SetAsideAt",
                table: "HookEvents");

            migrationBuilder.DropColumn(
                name: "Tries",
                table: "HookEvents");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes",
                column: "IdempotencyKey",
                unique: true);
        }
    }
}
