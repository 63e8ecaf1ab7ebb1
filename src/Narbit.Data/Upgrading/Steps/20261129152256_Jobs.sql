ALTER TABLE "Runs" ADD "Fields" TEXT NULL;

ALTER TABLE "Runs" ADD "Only" TEXT NULL;

ALTER TABLE "Runs" ADD "RequestsBySystem" TEXT NULL;

ALTER TABLE "Runs" ADD "TurnId" INTEGER NULL;

CREATE TABLE "DaysOff" (
    "Date" TEXT NOT NULL CONSTRAINT "PK_DaysOff" PRIMARY KEY,
    "Name" TEXT NULL
);

CREATE TABLE "Jobs" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Jobs" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "Timetable" TEXT NULL,
    "WhenAtWork" TEXT NOT NULL,
    "WhenMissed" TEXT NOT NULL,
    "WhenFailed" TEXT NOT NULL,
    "AgainAfterMinutes" INTEGER NOT NULL,
    "AgainTimes" INTEGER NOT NULL,
    "AtOnce" INTEGER NOT NULL,
    "LookEverySeconds" INTEGER NULL,
    "Off" INTEGER NOT NULL,
    "OnTop" INTEGER NOT NULL,
    "PausedUntil" INTEGER NULL,
    "SkipNext" INTEGER NOT NULL,
    "SettledUntil" INTEGER NOT NULL,
    "NextDueAt" INTEGER NULL,
    "Notice_Code" TEXT NULL,
    "Notice_Words" TEXT NULL,
    "Notice_Values" TEXT NULL,
    "RemovedAt" INTEGER NULL,
    "LanesBefore" TEXT NULL
);

CREATE TABLE "Turns" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Turns" PRIMARY KEY AUTOINCREMENT,
    "JobId" TEXT NOT NULL,
    "DueAt" INTEGER NOT NULL,
    "DueUntil" INTEGER NOT NULL,
    "Times" INTEGER NOT NULL,
    "Trigger" TEXT NOT NULL,
    "StartedBy" TEXT NOT NULL,
    "Fate" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "StartedAt" INTEGER NULL,
    "EndedAt" INTEGER NULL,
    "Scope" TEXT NULL,
    "Chain" TEXT NOT NULL
);

CREATE TABLE "JobLanes" (
    "LaneId" TEXT NOT NULL CONSTRAINT "PK_JobLanes" PRIMARY KEY,
    "JobId" TEXT NOT NULL,
    "Place" INTEGER NOT NULL,
    "Fields" TEXT NULL,
    CONSTRAINT "FK_JobLanes_Jobs_JobId" FOREIGN KEY ("JobId") REFERENCES "Jobs" ("Id") ON DELETE CASCADE
);

CREATE TABLE "TurnSteps" (
    "TurnId" INTEGER NOT NULL,
    "LaneId" TEXT NOT NULL,
    "Place" INTEGER NOT NULL,
    "State" TEXT NOT NULL,
    "RunId" INTEGER NULL,
    "Tries" INTEGER NOT NULL,
    "AgainAt" INTEGER NULL,
    "Why_Code" TEXT NULL,
    "Why_Words" TEXT NULL,
    "Why_Values" TEXT NULL,
    CONSTRAINT "PK_TurnSteps" PRIMARY KEY ("TurnId", "LaneId"),
    CONSTRAINT "FK_TurnSteps_Turns_TurnId" FOREIGN KEY ("TurnId") REFERENCES "Turns" ("Id") ON DELETE CASCADE
);

CREATE INDEX "IX_JobLanes_JobId" ON "JobLanes" ("JobId");

CREATE INDEX "IX_Turns_DueAt" ON "Turns" ("DueAt");

CREATE UNIQUE INDEX "IX_Turns_JobId" ON "Turns" ("JobId") WHERE "State" = 'Working';

CREATE INDEX "IX_Turns_JobId_DueAt" ON "Turns" ("JobId", "DueAt");

CREATE UNIQUE INDEX "IX_Turns_Waiting" ON "Turns" ("JobId") WHERE "State" = 'Waiting';

CREATE INDEX "IX_TurnSteps_RunId" ON "TurnSteps" ("RunId");

CREATE TABLE "ef_temp_Lanes" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Lanes" PRIMARY KEY,
    "ClosedAt" INTEGER NULL,
    "ClosedBy" TEXT NULL,
    "ComparedAt" INTEGER NULL,
    "ComparedRunId" INTEGER NULL,
    "EveryMinutes" INTEGER NULL,
    "Kind" TEXT NOT NULL,
    "Name" TEXT NULL,
    "Off" INTEGER NOT NULL,
    "Paused" INTEGER NOT NULL,
    "PublishedOnly" INTEGER NOT NULL,
    "RemovedAt" INTEGER NULL,
    "RuleNumber" INTEGER NOT NULL,
    "SkuStartsWith" TEXT NULL,
    "SourceId" TEXT NOT NULL,
    "TargetId" TEXT NOT NULL
);

INSERT INTO "ef_temp_Lanes" ("Id", "ClosedAt", "ClosedBy", "ComparedAt", "ComparedRunId", "EveryMinutes", "Kind", "Name", "Off", "Paused", "PublishedOnly", "RemovedAt", "RuleNumber", "SkuStartsWith", "SourceId", "TargetId")
SELECT "Id", "ClosedAt", "ClosedBy", "ComparedAt", "ComparedRunId", "EveryMinutes", "Kind", "Name", "Off", "Paused", "PublishedOnly", "RemovedAt", "RuleNumber", "SkuStartsWith", "SourceId", "TargetId"
FROM "Lanes";

DROP TABLE "Lanes";

ALTER TABLE "ef_temp_Lanes" RENAME TO "Lanes";
