DROP INDEX "IX_Writes_RunId_State";

CREATE INDEX "IX_Writes_Fated" ON "Writes" ("RunId", "State") WHERE "Fate_Code" IS NOT NULL;

CREATE INDEX "IX_Writes_Guarded" ON "Writes" ("RunId", "State") WHERE "Guards" <> '';

CREATE INDEX "IX_Writes_RunId" ON "Writes" ("RunId");

CREATE INDEX "IX_Writes_RunId_State_Kind" ON "Writes" ("RunId", "State", "Kind");

CREATE INDEX "IX_Writes_SentAt_State" ON "Writes" ("SentAt", "State") WHERE "SentAt" IS NOT NULL;
