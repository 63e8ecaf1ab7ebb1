DROP INDEX "IX_Mismatches_LaneId_State_Cause";

ALTER TABLE "Workspaces" ADD "ProvedAt" TEXT NULL;

ALTER TABLE "Wishes" ADD "Cause" TEXT NOT NULL DEFAULT '';

ALTER TABLE "Systems" ADD "CredentialEndsOn" TEXT NULL;

ALTER TABLE "OrderStandings" ADD "Untracked" INTEGER NOT NULL DEFAULT 0;

CREATE TABLE "Deliveries" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Deliveries" PRIMARY KEY AUTOINCREMENT,
    "ListenerId" INTEGER NOT NULL,
    "EventId" TEXT NOT NULL,
    "Body" TEXT NOT NULL,
    "MadeAt" INTEGER NOT NULL,
    "SentAt" INTEGER NULL,
    "Tries" INTEGER NOT NULL,
    "NextAt" INTEGER NULL,
    "Fault" TEXT NULL
);

CREATE TABLE "Listeners" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Listeners" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "Address" TEXT NOT NULL,
    "ProtectedSecret" TEXT NOT NULL,
    "OnlyHarm" INTEGER NOT NULL,
    "LinksTo" TEXT NOT NULL,
    "Until" INTEGER NOT NULL
);

CREATE TABLE "ProofLines" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_ProofLines" PRIMARY KEY AUTOINCREMENT,
    "ProofId" INTEGER NOT NULL,
    "Finding" TEXT NOT NULL,
    "SourceKey" TEXT NOT NULL,
    "TargetKey" TEXT NOT NULL,
    "Reference" TEXT NULL,
    "Caption" TEXT NULL,
    "Field" TEXT NULL,
    "There" TEXT NULL,
    "Should" TEXT NULL,
    "Before" TEXT NULL,
    "Words" TEXT NULL
);

CREATE TABLE "ProofRounds" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_ProofRounds" PRIMARY KEY AUTOINCREMENT,
    "By" TEXT NULL,
    "Day" TEXT NOT NULL,
    "StartedAt" INTEGER NOT NULL,
    "EndedAt" INTEGER NULL
);

CREATE TABLE "Proofs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Proofs" PRIMARY KEY AUTOINCREMENT,
    "RoundId" INTEGER NOT NULL,
    "LaneId" TEXT NOT NULL,
    "Day" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "Why_Code" TEXT NULL,
    "Why_Words" TEXT NULL,
    "Why_Values" TEXT NULL,
    "RuleNumber" INTEGER NOT NULL,
    "Records" INTEGER NOT NULL,
    "RecordsInStep" INTEGER NOT NULL,
    "Fields" INTEGER NOT NULL,
    "FieldsInStep" INTEGER NOT NULL,
    "ChangedThere" INTEGER NOT NULL,
    "ToSend" INTEGER NOT NULL,
    "Missing" INTEGER NOT NULL,
    "Held" INTEGER NOT NULL,
    "NotComputed" INTEGER NOT NULL,
    "Mistaken" INTEGER NOT NULL
);

CREATE INDEX "IX_Mismatches_LaneId_State_Cause_Key" ON "Mismatches" ("LaneId", "State", "Cause", "Key");

CREATE INDEX "IX_Mismatches_State_EndedAt" ON "Mismatches" ("State", "EndedAt");

CREATE INDEX "IX_Mismatches_State_FirstSeenAt" ON "Mismatches" ("State", "FirstSeenAt");

CREATE INDEX "IX_Deliveries_ListenerId" ON "Deliveries" ("ListenerId");

CREATE INDEX "IX_Deliveries_NextAt" ON "Deliveries" ("NextAt") WHERE "NextAt" IS NOT NULL;

CREATE INDEX "IX_ProofLines_ProofId_Finding" ON "ProofLines" ("ProofId", "Finding");

CREATE INDEX "IX_Proofs_LaneId_Day" ON "Proofs" ("LaneId", "Day");

CREATE INDEX "IX_Proofs_RoundId" ON "Proofs" ("RoundId");

CREATE TABLE "ef_temp_Wishes" (
    "Person" TEXT NOT NULL,
    "Harm" TEXT NOT NULL,
    "Cause" TEXT NOT NULL,
    "When" TEXT NOT NULL,
    CONSTRAINT "PK_Wishes" PRIMARY KEY ("Person", "Harm", "Cause")
);

INSERT INTO "ef_temp_Wishes" ("Person", "Harm", "Cause", "When")
SELECT "Person", "Harm", "Cause", "When"
FROM "Wishes";

DROP TABLE "Wishes";

ALTER TABLE "ef_temp_Wishes" RENAME TO "Wishes";
