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
                name: "At",
                table: "ReservedKeys",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

            // When earlier ones were reserved nobody knows; they are as old as this.
            migrationBuilder.Sql(
                """UPDATE "ReservedKeys" SET "At" = (CAST(strftime('%s', 'now') AS INTEGER) + 62135596800) * 10000000"""
            );

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

            migrationBuilder.AddColumn<long>(
                name: "DeskActId",
                table: "Decisions",
                type: "INTEGER",
                nullable: true);

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
                name: "IX_ValueChanges_At",
                table: "ValueChanges",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Runs_LaneId_StartedAt",
                table: "Runs",
                columns: new[] { "LaneId", "StartedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_ReservedKeys_At",
                table: "ReservedKeys",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Records_GoneAt",
                table: "Records",
                column: "GoneAt",
                filter: "\"GoneAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind",
                table: "Records",
                columns: new[] { "SystemId", "Kind" },
                filter: "\"MissedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Records_SystemId_Kind_ChangedAt",
                table: "Records",
                columns: new[] { "SystemId", "Kind", "ChangedAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Reads_StartedAt",
                table: "Reads",
                column: "StartedAt");

            migrationBuilder.CreateIndex(
                name: "IX_ProofRounds_Day",
                table: "ProofRounds",
                column: "Day");

            migrationBuilder.CreateIndex(
                name: "IX_ProofRounds_StartedAt",
                table: "ProofRounds",
                column: "StartedAt");

            migrationBuilder.CreateIndex(
                name: "IX_OrderDecisions_At",
                table: "OrderDecisions",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_EndedAt",
                table: "Mismatches",
                column: "EndedAt",
                filter: "\"EndedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchDays_Cause",
                table: "MismatchDays",
                column: "Cause");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchActs_At",
                table: "MismatchActs",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchActs_By",
                table: "MismatchActs",
                column: "By");

            migrationBuilder.CreateIndex(
                name: "IX_Mails_MadeAt",
                table: "Mails",
                column: "MadeAt");

            migrationBuilder.CreateIndex(
                name: "IX_Mails_Person",
                table: "Mails",
                column: "Person");

            migrationBuilder.CreateIndex(
                name: "IX_HookEvents_ReceivedAt",
                table: "HookEvents",
                column: "ReceivedAt");

            migrationBuilder.CreateIndex(
                name: "IX_Deliveries_MadeAt",
                table: "Deliveries",
                column: "MadeAt");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_At",
                table: "Decisions",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_Decisions_DeskActId",
                table: "Decisions",
                column: "DeskActId",
                filter: "\"DeskActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Batches_At",
                table: "Batches",
                column: "At");
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
                name: "IX_ValueChanges_At",
                table: "ValueChanges");

            migrationBuilder.DropIndex(
                name: "IX_Runs_LaneId_StartedAt",
                table: "Runs");

            migrationBuilder.DropIndex(
                name: "IX_ReservedKeys_At",
                table: "ReservedKeys");

            migrationBuilder.DropIndex(
                name: "IX_Records_GoneAt",
                table: "Records");

            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind",
                table: "Records");

            migrationBuilder.DropIndex(
                name: "IX_Records_SystemId_Kind_ChangedAt",
                table: "Records");

            migrationBuilder.DropIndex(
                name: "IX_Reads_StartedAt",
                table: "Reads");

            migrationBuilder.DropIndex(
                name: "IX_ProofRounds_Day",
                table: "ProofRounds");

            migrationBuilder.DropIndex(
                name: "IX_ProofRounds_StartedAt",
                table: "ProofRounds");

            migrationBuilder.DropIndex(
                name: "IX_OrderDecisions_At",
                table: "OrderDecisions");

            migrationBuilder.DropIndex(
                name: "IX_Mismatches_EndedAt",
                table: "Mismatches");

            migrationBuilder.DropIndex(
                name: "IX_MismatchDays_Cause",
                table: "MismatchDays");

            migrationBuilder.DropIndex(
                name: "IX_MismatchActs_At",
                table: "MismatchActs");

            migrationBuilder.DropIndex(
                name: "IX_MismatchActs_By",
                table: "MismatchActs");

            migrationBuilder.DropIndex(
                name: "IX_Mails_MadeAt",
                table: "Mails");

            migrationBuilder.DropIndex(
                name: "IX_Mails_Person",
                table: "Mails");

            migrationBuilder.DropIndex(
                name: "IX_HookEvents_ReceivedAt",
                table: "HookEvents");

            migrationBuilder.DropIndex(
                name: "IX_Deliveries_MadeAt",
                table: "Deliveries");

            migrationBuilder.DropIndex(
                name: "IX_Decisions_At",
                table: "Decisions");

            migrationBuilder.DropIndex(
                name: "IX_Decisions_DeskActId",
                table: "Decisions");

            migrationBuilder.DropIndex(
                name: "IX_Batches_At",
                table: "Batches");

            migrationBuilder.DropColumn(
                name: "ReadsWholeDaily",
                table: "Systems");

            migrationBuilder.DropColumn(
                name: "Basis",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "At",
                table: "ReservedKeys");

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

            migrationBuilder.DropColumn(
                name: "DeskActId",
                table: "Decisions");

            migrationBuilder.CreateIndex(
                name: "IX_Writes_IdempotencyKey",
                table: "Writes",
                column: "IdempotencyKey",
                unique: true);
        }
    }
}
