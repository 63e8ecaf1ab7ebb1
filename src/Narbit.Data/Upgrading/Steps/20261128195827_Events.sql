ALTER TABLE "Workspaces" ADD "AnonymiseAfterDays" INTEGER NULL;

ALTER TABLE "Systems" ADD "HookSecretAt" INTEGER NULL;

ALTER TABLE "Systems" ADD "ProtectedHookSecret" TEXT NULL;

ALTER TABLE "Systems" ADD "ProtectedHookSecretBefore" TEXT NULL;

ALTER TABLE "Records" ADD "AnonymisedAt" INTEGER NULL;

ALTER TABLE "OrderStandings" ADD "Goods" TEXT NOT NULL DEFAULT '';

CREATE TABLE "HookEvents" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_HookEvents" PRIMARY KEY AUTOINCREMENT,
    "SystemId" TEXT NOT NULL,
    "EventId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "RecordKey" TEXT NOT NULL,
    "ReceivedAt" INTEGER NOT NULL,
    "ReadAt" INTEGER NULL
);

CREATE INDEX "IX_Records_AnonymisedAt" ON "Records" ("AnonymisedAt") WHERE "AnonymisedAt" IS NOT NULL;

CREATE UNIQUE INDEX "IX_HookEvents_SystemId_EventId" ON "HookEvents" ("SystemId", "EventId");

CREATE INDEX "IX_HookEvents_SystemId_ReadAt" ON "HookEvents" ("SystemId", "ReadAt");
