DROP INDEX "IX_Writes_IdempotencyKey";

ALTER TABLE "Systems" ADD "ReadsWholeDaily" INTEGER NOT NULL DEFAULT 1;

ALTER TABLE "Runs" ADD "Basis" TEXT NULL;

ALTER TABLE "ReservedKeys" ADD "At" INTEGER NOT NULL DEFAULT 0;

UPDATE "ReservedKeys" SET "At" = (CAST(strftime('%s', 'now') AS INTEGER) + 62135596800) * 10000000;

ALTER TABLE "Records" ADD "MissedAt" INTEGER NULL;

ALTER TABLE "Reads" ADD "AsOf" INTEGER NULL;

ALTER TABLE "Reads" ADD "Moved" INTEGER NOT NULL DEFAULT 0;

ALTER TABLE "Reads" ADD "NewestChange" INTEGER NULL;

ALTER TABLE "Reads" ADD "Unkept" INTEGER NOT NULL DEFAULT 0;

ALTER TABLE "Reads" ADD "UnkeptFirst" TEXT NULL;

ALTER TABLE "HookEvents" ADD "Fault" TEXT NULL;

ALTER TABLE "HookEvents" ADD "NextAt" INTEGER NULL;

ALTER TABLE "HookEvents" ADD "SetAsideAt" INTEGER NULL;

ALTER TABLE "HookEvents" ADD "Tries" INTEGER NOT NULL DEFAULT 0;

ALTER TABLE "Decisions" ADD "DeskActId" INTEGER NULL;

CREATE INDEX "IX_Writes_IdempotencyKey" ON "Writes" ("IdempotencyKey");

CREATE INDEX "IX_Writes_Open" ON "Writes" ("RunId") WHERE "State" IN ('Unknown', 'Sent');

CREATE INDEX "IX_Writes_SourceKey" ON "Writes" ("SourceKey") WHERE "Act" = 'Create';

CREATE INDEX "IX_ValueChanges_At" ON "ValueChanges" ("At");

CREATE INDEX "IX_Runs_LaneId_StartedAt" ON "Runs" ("LaneId", "StartedAt");

CREATE INDEX "IX_ReservedKeys_At" ON "ReservedKeys" ("At");

CREATE INDEX "IX_Records_GoneAt" ON "Records" ("GoneAt") WHERE "GoneAt" IS NOT NULL;

CREATE INDEX "IX_Records_SystemId_Kind" ON "Records" ("SystemId", "Kind") WHERE "MissedAt" IS NOT NULL;

CREATE INDEX "IX_Records_SystemId_Kind_ChangedAt" ON "Records" ("SystemId", "Kind", "ChangedAt");

CREATE INDEX "IX_Reads_StartedAt" ON "Reads" ("StartedAt");

CREATE INDEX "IX_ProofRounds_Day" ON "ProofRounds" ("Day");

CREATE INDEX "IX_ProofRounds_StartedAt" ON "ProofRounds" ("StartedAt");

CREATE INDEX "IX_OrderDecisions_At" ON "OrderDecisions" ("At");

CREATE INDEX "IX_Mismatches_EndedAt" ON "Mismatches" ("EndedAt") WHERE "EndedAt" IS NOT NULL;

CREATE INDEX "IX_MismatchDays_Cause" ON "MismatchDays" ("Cause");

CREATE INDEX "IX_MismatchActs_At" ON "MismatchActs" ("At");

CREATE INDEX "IX_MismatchActs_By" ON "MismatchActs" ("By");

CREATE INDEX "IX_Mails_MadeAt" ON "Mails" ("MadeAt");

CREATE INDEX "IX_Mails_Person" ON "Mails" ("Person");

CREATE INDEX "IX_HookEvents_ReceivedAt" ON "HookEvents" ("ReceivedAt");

CREATE INDEX "IX_Deliveries_MadeAt" ON "Deliveries" ("MadeAt");

CREATE INDEX "IX_Decisions_At" ON "Decisions" ("At");

CREATE INDEX "IX_Decisions_DeskActId" ON "Decisions" ("DeskActId") WHERE "DeskActId" IS NOT NULL;

CREATE INDEX "IX_Batches_At" ON "Batches" ("At");
