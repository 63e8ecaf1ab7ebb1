CREATE INDEX "IX_Writes_TakenBack" ON "Writes" ("RunId", "State") WHERE "TakenBackIn" IS NOT NULL;
