ALTER TABLE "RuleVersions" ADD "DeskActId" INTEGER NULL;

ALTER TABLE "OrderDecisions" ADD "DeskActId" INTEGER NULL;

CREATE INDEX "IX_RuleVersions_DeskActId" ON "RuleVersions" ("DeskActId") WHERE "DeskActId" IS NOT NULL;

CREATE INDEX "IX_OrderDecisions_DeskActId" ON "OrderDecisions" ("DeskActId") WHERE "DeskActId" IS NOT NULL;
