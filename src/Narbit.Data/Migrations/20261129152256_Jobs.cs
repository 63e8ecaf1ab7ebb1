using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Narbit.Data.Migrations
{
    /// <inheritdoc />
    public partial class Jobs : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "NextDueAt",
                table: "Lanes");

            migrationBuilder.AddColumn<string>(
                name: "Fields",
                table: "Runs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Only",
                table: "Runs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "RequestsBySystem",
                table: "Runs",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "TurnId",
                table: "Runs",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "DaysOff",
                columns: table => new
                {
                    Date = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DaysOff", x => x.Date);
                });

            migrationBuilder.CreateTable(
                name: "Jobs",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Timetable = table.Column<string>(type: "TEXT", nullable: true),
                    WhenAtWork = table.Column<string>(type: "TEXT", nullable: false),
                    WhenMissed = table.Column<string>(type: "TEXT", nullable: false),
                    WhenFailed = table.Column<string>(type: "TEXT", nullable: false),
                    AgainAfterMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    AgainTimes = table.Column<int>(type: "INTEGER", nullable: false),
                    AtOnce = table.Column<bool>(type: "INTEGER", nullable: false),
                    LookEverySeconds = table.Column<int>(type: "INTEGER", nullable: true),
                    Off = table.Column<bool>(type: "INTEGER", nullable: false),
                    OnTop = table.Column<bool>(type: "INTEGER", nullable: false),
                    PausedUntil = table.Column<long>(type: "INTEGER", nullable: true),
                    SkipNext = table.Column<int>(type: "INTEGER", nullable: false),
                    SettledUntil = table.Column<long>(type: "INTEGER", nullable: false),
                    NextDueAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Notice_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Notice_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Notice_Values = table.Column<string>(type: "TEXT", nullable: true),
                    RemovedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    LanesBefore = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Jobs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Turns",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    JobId = table.Column<string>(type: "TEXT", nullable: false),
                    DueAt = table.Column<long>(type: "INTEGER", nullable: false),
                    DueUntil = table.Column<long>(type: "INTEGER", nullable: false),
                    Times = table.Column<int>(type: "INTEGER", nullable: false),
                    Trigger = table.Column<string>(type: "TEXT", nullable: false),
                    StartedBy = table.Column<string>(type: "TEXT", nullable: false),
                    Fate = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    StartedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    EndedAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Scope = table.Column<string>(type: "TEXT", nullable: true),
                    Chain = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Turns", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "JobLanes",
                columns: table => new
                {
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    JobId = table.Column<string>(type: "TEXT", nullable: false),
                    Place = table.Column<int>(type: "INTEGER", nullable: false),
                    Fields = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_JobLanes", x => x.LaneId);
                    table.ForeignKey(
                        name: "FK_JobLanes_Jobs_JobId",
                        column: x => x.JobId,
                        principalTable: "Jobs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "TurnSteps",
                columns: table => new
                {
                    TurnId = table.Column<long>(type: "INTEGER", nullable: false),
                    LaneId = table.Column<string>(type: "TEXT", nullable: false),
                    Place = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<string>(type: "TEXT", nullable: false),
                    RunId = table.Column<long>(type: "INTEGER", nullable: true),
                    Tries = table.Column<int>(type: "INTEGER", nullable: false),
                    AgainAt = table.Column<long>(type: "INTEGER", nullable: true),
                    Why_Code = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Words = table.Column<string>(type: "TEXT", nullable: true),
                    Why_Values = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_TurnSteps", x => new { x.TurnId, x.LaneId });
                    table.ForeignKey(
                        name: "FK_TurnSteps_Turns_TurnId",
                        column: x => x.TurnId,
                        principalTable: "Turns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_JobLanes_JobId",
                table: "JobLanes",
                column: "JobId");

            migrationBuilder.CreateIndex(
                name: "IX_Turns_DueAt",
                table: "Turns",
                column: "DueAt");

            migrationBuilder.CreateIndex(
                name: "IX_Turns_JobId",
                table: "Turns",
                column: "JobId",
                unique: true,
                filter: "\"State\" = 'Working'");

            migrationBuilder.CreateIndex(
                name: "IX_Turns_JobId_DueAt",
                table: "Turns",
                columns: new[] { "JobId", "DueAt" });

            migrationBuilder.CreateIndex(
                name: "IX_Turns_Waiting",
                table: "Turns",
                column: "JobId",
                unique: true,
                filter: "\"State\" = 'Waiting'");

            migrationBuilder.CreateIndex(
                name: "IX_TurnSteps_RunId",
                table: "TurnSteps",
                column: "RunId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "DaysOff");

            migrationBuilder.DropTable(
                name: "JobLanes");

            migrationBuilder.DropTable(
                name: "TurnSteps");

            migrationBuilder.DropTable(
                name: "Jobs");

            migrationBuilder.DropTable(
                name: "Turns");

            migrationBuilder.DropColumn(
                name: "Fields",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "Only",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "RequestsBySystem",
                table: "Runs");

            migrationBuilder.DropColumn(
                name: "TurnId",
                table: "Runs");

            migrationBuilder.AddColumn<long>(
                name: "NextDueAt",
                table: "Lanes",
                type: "INTEGER",
                nullable: true);
        }
    }
}
