ALTER TABLE "Writes" ADD "Record" TEXT NOT NULL DEFAULT 'Item';

CREATE TABLE "Counterparts" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Counterparts" PRIMARY KEY AUTOINCREMENT,
    "Kind" TEXT NOT NULL,
    "SourceId" TEXT NOT NULL,
    "SourceKey" TEXT NOT NULL,
    "TargetId" TEXT NOT NULL,
    "TargetKey" TEXT NOT NULL,
    "RunId" INTEGER NOT NULL,
    "At" INTEGER NOT NULL
);

CREATE TABLE "OrderStandings" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OrderStandings" PRIMARY KEY AUTOINCREMENT,
    "LaneId" TEXT NOT NULL,
    "SourceKey" TEXT NOT NULL,
    "Number" TEXT NULL,
    "PlacedAt" INTEGER NOT NULL,
    "Buyer" TEXT NULL,
    "Email" TEXT NULL,
    "Skus" TEXT NOT NULL,
    "Total" REAL NOT NULL,
    "Currency" TEXT NULL,
    "Stage" TEXT NOT NULL,
    "Causes" TEXT NOT NULL,
    "Words" TEXT NULL,
    "Refunded" REAL NOT NULL,
    "HubKey" TEXT NULL,
    "UsesDefaultItem" INTEGER NOT NULL,
    "ComputedAt" INTEGER NOT NULL
);

CREATE UNIQUE INDEX "IX_Counterparts_Kind_SourceId_SourceKey_TargetId" ON "Counterparts" ("Kind", "SourceId", "SourceKey", "TargetId");

CREATE INDEX "IX_Counterparts_Kind_TargetId_TargetKey" ON "Counterparts" ("Kind", "TargetId", "TargetKey");

CREATE UNIQUE INDEX "IX_OrderStandings_LaneId_SourceKey" ON "OrderStandings" ("LaneId", "SourceKey");

CREATE INDEX "IX_OrderStandings_Number" ON "OrderStandings" ("Number");

CREATE INDEX "IX_OrderStandings_PlacedAt" ON "OrderStandings" ("PlacedAt");

CREATE INDEX "IX_OrderStandings_Stage_PlacedAt" ON "OrderStandings" ("Stage", "PlacedAt");
