DROP INDEX "IX_Records_SystemId_Kind_Reference";

CREATE INDEX "IX_Records_SystemId_Kind_GoneAt" ON "Records" ("SystemId", "Kind", "GoneAt") WHERE "Problems" IS NOT NULL AND "GoneAt" IS NULL;

CREATE INDEX "IX_Records_SystemId_Kind_Reference_GoneAt" ON "Records" ("SystemId", "Kind", "Reference", "GoneAt");
