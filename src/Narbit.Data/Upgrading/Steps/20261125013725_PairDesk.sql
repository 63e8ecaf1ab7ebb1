DROP TABLE "Pairs";

ALTER TABLE "Lanes" ADD "HeldAt" INTEGER NULL;

ALTER TABLE "Lanes" ADD "HeldBy" TEXT NULL;

CREATE TABLE "Batches" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Batches" PRIMARY KEY AUTOINCREMENT,
    "CoupleId" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "Note" TEXT NULL,
    "Decisions" INTEGER NOT NULL,
    "UndoneBy" TEXT NULL,
    "UndoneAt" INTEGER NULL
);

CREATE TABLE "Couples" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Couples" PRIMARY KEY AUTOINCREMENT,
    "HubId" TEXT NOT NULL,
    "OtherId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "AcceptsCertain" INTEGER NOT NULL,
    "Way" TEXT NULL,
    "TakingSince" INTEGER NULL,
    "HabitBefore" TEXT NULL,
    "HabitAfter" TEXT NULL,
    "PairedAt" INTEGER NULL
);

CREATE TABLE "Decisions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Decisions" PRIMARY KEY AUTOINCREMENT,
    "CoupleId" INTEGER NOT NULL,
    "BatchId" INTEGER NULL,
    "Act" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "HubKey" TEXT NULL,
    "OtherKey" TEXT NULL,
    "Parts" TEXT NULL,
    "Reason" TEXT NULL,
    "Evidence" TEXT NOT NULL,
    "Verdict" TEXT NULL,
    "Sku" TEXT NULL,
    "Title" TEXT NULL,
    "HubClaim" TEXT NULL,
    "OtherClaim" TEXT NULL,
    "Before" TEXT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL
);

CREATE TABLE "Links" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Links" PRIMARY KEY AUTOINCREMENT,
    "CoupleId" INTEGER NOT NULL,
    "HubKey" TEXT NOT NULL,
    "OtherKey" TEXT NOT NULL,
    "Quantity" TEXT NOT NULL,
    "IsKit" INTEGER NOT NULL,
    "DecisionId" INTEGER NOT NULL
);

CREATE TABLE "Proposals" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Proposals" PRIMARY KEY AUTOINCREMENT,
    "CoupleId" INTEGER NOT NULL,
    "HubKey" TEXT NULL,
    "OtherKey" TEXT NULL,
    "Verdict" TEXT NOT NULL,
    "Confidence" REAL NOT NULL,
    "Evidence" TEXT NOT NULL,
    "Candidates" TEXT NOT NULL,
    "Sku" TEXT NULL,
    "Title" TEXT NULL,
    "Causes" TEXT NOT NULL
);

CREATE TABLE "SetAsides" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_SetAsides" PRIMARY KEY AUTOINCREMENT,
    "CoupleId" INTEGER NOT NULL,
    "HubKey" TEXT NULL,
    "OtherKey" TEXT NULL,
    "Reason" TEXT NOT NULL,
    "ToCreate" INTEGER NOT NULL,
    "DecisionId" INTEGER NOT NULL
);

CREATE INDEX "IX_Batches_CoupleId" ON "Batches" ("CoupleId");

CREATE UNIQUE INDEX "IX_Couples_HubId_OtherId_Kind" ON "Couples" ("HubId", "OtherId", "Kind");

CREATE INDEX "IX_Decisions_BatchId" ON "Decisions" ("BatchId");

CREATE UNIQUE INDEX "IX_Decisions_CoupleId_HubClaim" ON "Decisions" ("CoupleId", "HubClaim") WHERE "State" = 'Waiting' AND "HubClaim" IS NOT NULL;

CREATE UNIQUE INDEX "IX_Decisions_CoupleId_OtherClaim" ON "Decisions" ("CoupleId", "OtherClaim") WHERE "State" = 'Waiting' AND "OtherClaim" IS NOT NULL;

CREATE INDEX "IX_Decisions_CoupleId_State" ON "Decisions" ("CoupleId", "State");

CREATE INDEX "IX_Links_CoupleId_HubKey" ON "Links" ("CoupleId", "HubKey");

CREATE UNIQUE INDEX "IX_Links_CoupleId_OtherKey" ON "Links" ("CoupleId", "OtherKey") WHERE "IsKit" = 0;

CREATE UNIQUE INDEX "IX_Links_CoupleId_OtherKey_HubKey" ON "Links" ("CoupleId", "OtherKey", "HubKey");

CREATE INDEX "IX_Proposals_CoupleId_HubKey" ON "Proposals" ("CoupleId", "HubKey");

CREATE INDEX "IX_Proposals_CoupleId_OtherKey" ON "Proposals" ("CoupleId", "OtherKey");

CREATE INDEX "IX_Proposals_CoupleId_Verdict_Sku" ON "Proposals" ("CoupleId", "Verdict", "Sku");

CREATE UNIQUE INDEX "IX_SetAsides_CoupleId_HubKey" ON "SetAsides" ("CoupleId", "HubKey") WHERE "HubKey" IS NOT NULL;

CREATE UNIQUE INDEX "IX_SetAsides_CoupleId_OtherKey" ON "SetAsides" ("CoupleId", "OtherKey") WHERE "OtherKey" IS NOT NULL;

INSERT INTO Couples (HubId, OtherId, Kind, AcceptsCertain, Way) SELECT DISTINCT SourceId, TargetId, 'Item', 1, 'TakeOver' FROM Lanes;
