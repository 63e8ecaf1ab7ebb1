CREATE TABLE "Causes" (
    "LaneId" TEXT NOT NULL,
    "Code" TEXT NOT NULL,
    "Since" INTEGER NOT NULL,
    CONSTRAINT "PK_Causes" PRIMARY KEY ("LaneId", "Code")
);

CREATE TABLE "ef_temp_Lanes" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Lanes" PRIMARY KEY,
    "ClosedAt" INTEGER NULL,
    "ClosedBy" TEXT NULL,
    "ComparedAt" INTEGER NULL,
    "ComparedRunId" INTEGER NULL,
    "EveryMinutes" INTEGER NULL,
    "Kind" TEXT NOT NULL,
    "NextDueAt" INTEGER NULL,
    "Off" INTEGER NOT NULL,
    "Paused" INTEGER NOT NULL,
    "PublishedOnly" INTEGER NOT NULL,
    "RuleNumber" INTEGER NOT NULL,
    "SkuStartsWith" TEXT NULL,
    "SourceId" TEXT NOT NULL,
    "TargetId" TEXT NOT NULL
);

INSERT INTO "ef_temp_Lanes" ("Id", "ClosedAt", "ClosedBy", "ComparedAt", "ComparedRunId", "EveryMinutes", "Kind", "NextDueAt", "Off", "Paused", "PublishedOnly", "RuleNumber", "SkuStartsWith", "SourceId", "TargetId")
SELECT "Id", "ClosedAt", "ClosedBy", "ComparedAt", "ComparedRunId", "EveryMinutes", "Kind", "NextDueAt", "Off", "Paused", "PublishedOnly", "RuleNumber", "SkuStartsWith", "SourceId", "TargetId"
FROM "Lanes";

DROP TABLE "Lanes";

ALTER TABLE "ef_temp_Lanes" RENAME TO "Lanes";
