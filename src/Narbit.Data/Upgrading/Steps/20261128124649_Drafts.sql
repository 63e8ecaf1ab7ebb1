ALTER TABLE "Decisions" ADD "ThrownAt" INTEGER NULL;

ALTER TABLE "Decisions" ADD "ThrownBy" TEXT NULL;

ALTER TABLE "Batches" ADD "WayBefore" TEXT NULL;

CREATE TABLE "Drafts" (
    "LaneId" TEXT NOT NULL,
    "Person" TEXT NOT NULL,
    "BaseNumber" INTEGER NOT NULL,
    "Document" TEXT NOT NULL,
    "Guards" TEXT NULL,
    "Note" TEXT NULL,
    "At" INTEGER NOT NULL,
    "Window" TEXT NOT NULL,
    "ThrownAt" INTEGER NULL,
    CONSTRAINT "PK_Drafts" PRIMARY KEY ("LaneId", "Person")
);

CREATE INDEX "IX_Decisions_CoupleId_ThrownAt" ON "Decisions" ("CoupleId", "ThrownAt") WHERE "ThrownAt" IS NOT NULL;
