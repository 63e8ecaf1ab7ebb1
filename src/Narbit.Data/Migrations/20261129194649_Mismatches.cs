using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Mismatches : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Causes");

            migrationBuilder.AddColumn<string>(
                name: "Details",
                table: "OrderStandings",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "ActsOn",
                columns: table => new
                {
                    ActId = table.Column<long>(type: "INTEGER", nullable: false),
                    MismatchId = table.Column<long>(type: "INTEGER", nullable: false),
                    StateBefore = table.Column<string>(type: "TEXT", nullable: false),
                    UntilBefore = table.Column<long>(type: "INTEGER", nullable: true),
                    OwnerBefore = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ActsOn", x => new { x.ActId, x.MismatchId });
                });

            migrationBuilder.CreateTable(
                name: "Mails",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    To = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    Html = table.Column<string>(type: "TEXT", nullable: false),
                    MadeAt = table.Column<long>(type: "INTEGER", nullable: false),
                    SentAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    NextAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Fault = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Mails", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "MailServers",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Host = table.Column<string>(type: "TEXT", nullable: false),
                    Port = table.Column<int>(type: "INTEGER", nullable: false),
                    Security = table.Column<string>(type: "TEXT", nullable: false),
                    User = table.Column<string>(type: "TEXT", nullable: true),
                    ProtectedPassword = table.Column<string>(type: "TEXT", nullable: true),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    LinksTo = table.Column<string>(type: "TEXT", nullable: false),
                    Since = table.Column<long>(type: "INTEGER", nullable: false),
                    DailyAt = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MailServers", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "MismatchActs",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    At = table.Column<long>(type: "INTEGER", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: true),
                    Undo = table.Column<string>(type: "TEXT", nullable: true),
                    Count = table.Column<int>(type: "INTEGER", nullable: false),
                    Learned = table.Column<bool>(type: "INTEGER", nullable: false),
                    UndoneAt = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MismatchActs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "MismatchDays",
                columns: table => new
                {
                    Day = table.Column<string>(type: "TEXT", nullable: false),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    Open = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MismatchDays", x => new { x.Day, x.Cause });
                });

            migrationBuilder.CreateTable(
                name: "Mismatches",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Cause = table.Column<string>(type: "TEXT", nullable: false),
                    SystemId = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Key = table.Column<string>(type: "TEXT", nullable: false),
                    Scope = table.Column<string>(type: "TEXT", nullable: false),
                    Origin = table.Column<string>(type: "TEXT", nullable: false),
                    OtherSystemId = table.Column<string>(type: "TEXT", nullable: true),
                    OtherKey = table.Column<string>(type: "TEXT", nullable: true),
                    LaneId = table.Column<string>(type: "TEXT", nullable: true),
                    CoupleId = table.Column<long>(type: "INTEGER", nullable: true),
                    RunId = table.Column<long>(type: "INTEGER", nullable: true),
                    Reference = table.Column<string>(type: "TEXT", nullable: true),
                    Caption = table.Column<string>(type: "TEXT", nullable: true),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: true),
                    Hint = table.Column<string>(type: "TEXT", nullable: true),
                    Proposal = table.Column<string>(type: "TEXT", nullable: true),
                    Because = table.Column<string>(type: "TEXT", nullable: true),
                    Pieces = table.Column<double>(type: "REAL", nullable: true),
                    Worth = table.Column<long>(type: "INTEGER", nullable: true),
                    Currency = table.Column<string>(type: "TEXT", nullable: true),
                    Since = table.Column<long>(type: "INTEGER", nullable: false),
                    FirstSeenAt = table.Column<long>(type: "INTEGER", nullable: false),
                    OpenedAt = table.Column<long>(type: "INTEGER", nullable: false),
                    SeenAt = table.Column<long>(type: "INTEGER", nullable: false),
                    Seen = table.Column<int>(type: "INTEGER", nullable: false),
                    CameBack = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    Until = table.Column<long>(type: "INTEGER", nullable: true),
                    Owner = table.Column<string>(type: "TEXT", nullable: true),
                    SettledBy = table.Column<string>(type: "TEXT", nullable: true),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    ActId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Mismatches", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Told",
                columns: table => new
                {
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Until = table.Column<long>(type: "INTEGER", nullable: false),
                    AtOnceAt = table.Column<long>(type: "INTEGER", nullable: true),
                    SummedUpOn = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Told", x => x.Person);
                });

            migrationBuilder.CreateTable(
                name: "Wishes",
                columns: table => new
                {
                    Person = table.Column<string>(type: "TEXT", nullable: false),
                    Harm = table.Column<string>(type: "TEXT", nullable: false),
                    When = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Wishes", x => new { x.Person, x.Harm });
                });

            migrationBuilder.CreateIndex(
                name: "IX_ActsOn_MismatchId",
                table: "ActsOn",
                column: "MismatchId");

            migrationBuilder.CreateIndex(
                name: "IX_Mails_NextAt",
                table: "Mails",
                column: "NextAt",
                filter: "\"NextAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_MismatchActs_Learned",
                table: "MismatchActs",
                column: "Learned",
                filter: "\"Learned\" = 1");

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_ActId",
                table: "Mismatches",
                column: "ActId",
                filter: "\"ActId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_Cause_SystemId_Kind_Key_Scope",
                table: "Mismatches",
                columns: new[] { "Cause", "SystemId", "Kind", "Key", "Scope" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_LaneId_State_Cause",
                table: "Mismatches",
                columns: new[] { "LaneId", "State", "Cause" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_OpenedAt_State",
                table: "Mismatches",
                columns: new[] { "OpenedAt", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_Origin_State",
                table: "Mismatches",
                columns: new[] { "Origin", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_Cause_Since",
                table: "Mismatches",
                columns: new[] { "State", "Cause", "Since" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_Cause_SystemId_Currency_Worth_Pieces_Since_OtherSystemId_Kind_Owner",
                table: "Mismatches",
                columns: new[] { "State", "Cause", "SystemId", "Currency", "Worth", "Pieces", "Since", "OtherSystemId", "Kind", "Owner" });

            migrationBuilder.CreateIndex(
                name: "IX_Mismatches_State_Until",
                table: "Mismatches",
                columns: new[] { "State", "Until" },
                filter: "\"State\" = 'PutOff'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "ActsOn");

            migrationBuilder.DropTable(
                name: "Mails");

            migrationBuilder.DropTable(
                name: "MailServers");

            migrationBuilder.DropTable(
                name: "MismatchActs");

            migrationBuilder.DropTable(
                name: "MismatchDays");

            migrationBuilder.DropTable(
                name: "Mismatches");

            migrationBuilder.DropTable(
                name: "Told");

            migrationBuilder.DropTable(
                name: "Wishes");

            migrationBuilder.DropColumn(
                name: "Details",
                table: "OrderStandings");

            migrationBuilder.CreateTable(
                name: "Causes",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Since = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Causes", x => new { x.LaneId, x.Code });
                });
        }
    }
}
