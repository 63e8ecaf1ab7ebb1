DROP INDEX "IX_Writes_RunId_Sku";
DROP INDEX "IX_Remarks_RunId_Cause";
DROP INDEX "IX_Proposals_CoupleId_Verdict_Sku";
DROP INDEX "IX_Records_SystemId_Kind_Sku";

ALTER TABLE "Writes" RENAME COLUMN "HubKey" TO "SourceKey";
ALTER TABLE "Writes" RENAME COLUMN "Sku" TO "Reference";
ALTER TABLE "Writes" RENAME COLUMN "Title" TO "Caption";
ALTER TABLE "Writes" RENAME COLUMN "HoldReason" TO "Hold_Words";
ALTER TABLE "Writes" RENAME COLUMN "Message" TO "Fate_Words";
ALTER TABLE "Writes" ADD COLUMN "Hold_Code" TEXT NULL;
ALTER TABLE "Writes" ADD COLUMN "Hold_Values" TEXT NULL;
ALTER TABLE "Writes" ADD COLUMN "Fate_Code" TEXT NULL;
ALTER TABLE "Writes" ADD COLUMN "Fate_Values" TEXT NULL;
ALTER TABLE "Writes" ADD COLUMN "MoveUnit" TEXT NULL;
ALTER TABLE "Writes" ADD COLUMN "Children" TEXT NULL;
ALTER TABLE "Writes" ADD COLUMN "Way" TEXT NOT NULL DEFAULT 'There';
UPDATE "Writes" SET "Way" = 'Back' WHERE "ToSource" = 1;
ALTER TABLE "Writes" DROP COLUMN "ToSource";
UPDATE "Writes" SET "Hold_Code" = 'earlier' WHERE "Hold_Words" IS NOT NULL;
UPDATE "Writes" SET "Fate_Code" = 'earlier' WHERE "Fate_Words" IS NOT NULL;
UPDATE "Writes" SET "MoveUnit" = (
    SELECT CASE l."Kind" WHEN 'Price' THEN '%' ELSE 'pcs' END FROM "Runs" r JOIN "Lanes" l ON l."Id" = r."LaneId"
    WHERE r."Id" = "Writes"."RunId") WHERE "Move" IS NOT NULL;
ALTER TABLE "WriteFields" ADD COLUMN "Agrees" TEXT NULL;

ALTER TABLE "Remarks" RENAME COLUMN "HubKey" TO "SourceKey";
ALTER TABLE "Remarks" RENAME COLUMN "Sku" TO "Reference";
ALTER TABLE "Remarks" RENAME COLUMN "Title" TO "Caption";
ALTER TABLE "Remarks" RENAME COLUMN "Cause" TO "Why_Code";
ALTER TABLE "Remarks" RENAME COLUMN "Message" TO "Why_Words";
ALTER TABLE "Remarks" ADD COLUMN "Why_Values" TEXT NULL;

ALTER TABLE "Runs" RENAME COLUMN "Message" TO "Why_Words";
ALTER TABLE "Runs" ADD COLUMN "Why_Code" TEXT NULL;
ALTER TABLE "Runs" ADD COLUMN "Why_Values" TEXT NULL;
UPDATE "Runs" SET "Why_Code" = 'earlier' WHERE "Why_Words" IS NOT NULL;

ALTER TABLE "Records" RENAME COLUMN "Sku" TO "Reference";
ALTER TABLE "Records" RENAME COLUMN "Title" TO "Caption";
ALTER TABLE "Records" ADD COLUMN "Group" TEXT NULL;
ALTER TABLE "Records" ADD COLUMN "Children" TEXT NULL;

ALTER TABLE "Proposals" RENAME COLUMN "Sku" TO "Reference";
ALTER TABLE "Proposals" RENAME COLUMN "Title" TO "Caption";
ALTER TABLE "Decisions" RENAME COLUMN "Sku" TO "Reference";
ALTER TABLE "Decisions" RENAME COLUMN "Title" TO "Caption";
ALTER TABLE "KeptOff" RENAME COLUMN "HubKey" TO "SourceKey";
ALTER TABLE "Workspaces" ADD COLUMN "Country" TEXT NULL;

ALTER TABLE "Lanes" RENAME COLUMN "HeldAt" TO "ClosedAt";
ALTER TABLE "Lanes" RENAME COLUMN "HeldBy" TO "ClosedBy";
UPDATE "Writes" SET "Kind" = 'Withdrawn' WHERE "Kind" = 'Gone';

ALTER TABLE "Batches" ADD COLUMN "Origin" TEXT NOT NULL DEFAULT 'Person';
UPDATE "Batches" SET "Origin" = 'Pairing' WHERE "By" = 'Pairing';
UPDATE "Batches" SET "Origin" = 'StockTaking' WHERE "Note" LIKE 'first stock-taking%';

-- A rule says of itself what it is.
UPDATE "RuleVersions" SET "Document" = (
    SELECT CASE l."Kind"
        WHEN 'Price' THEN json_object('kind', 'price', 'rule', json("RuleVersions"."Document"))
        WHEN 'Stock' THEN json_object('kind', 'stock', 'rule', json("RuleVersions"."Document"))
        WHEN 'Item' THEN json_object('kind', 'item', 'map', json("RuleVersions"."Document"))
        ELSE json_set("RuleVersions"."Document", '$.kind', 'correction') END
    FROM "Lanes" l WHERE l."Id" = "RuleVersions"."LaneId");

-- What was agreed on belongs to the pair of records, whichever lane found it out; of several the newest counts.
ALTER TABLE "Agreed" RENAME TO "AgreedOfLanes";
CREATE TABLE "Agreed" (
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "WithId" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "WithKey" TEXT NOT NULL,
    "Field" TEXT NOT NULL,
    "Value" TEXT NULL,
    "Source" TEXT NULL,
    "At" INTEGER NOT NULL,
    CONSTRAINT "PK_Agreed" PRIMARY KEY ("SystemId", "Kind", "WithId", "Key", "WithKey", "Field")
);
INSERT OR REPLACE INTO "Agreed" ("SystemId", "Kind", "WithId", "Key", "WithKey", "Field", "Value", "Source", "At")
SELECT l."TargetId", 'Item', l."SourceId", a."TargetKey", MIN(k."HubKey"), a."Field", a."Value", a."Source", a."At"
FROM "AgreedOfLanes" a
JOIN "Lanes" l ON l."Id" = a."LaneId"
JOIN "Couples" c ON c."HubId" = l."SourceId" AND c."OtherId" = l."TargetId" AND c."Kind" = 'Item'
JOIN "Links" k ON k."CoupleId" = c."Id" AND k."OtherKey" = a."TargetKey"
GROUP BY a."LaneId", a."TargetKey", a."Field"
ORDER BY a."At";
DROP TABLE "AgreedOfLanes";

-- A listing that its item took away is shown again with it; a draft waits for a person.
UPDATE "Agreed" SET "Source" = 'withdrawn'
WHERE "Value" = 'false' AND EXISTS (
    SELECT 1 FROM "Writes" w
    JOIN "WriteFields" f ON f."WriteId" = w."Id" AND f."Field" = "Agreed"."Field" AND f."New" = 'false'
    WHERE w."TargetKey" = "Agreed"."Key" AND w."Kind" = 'Withdrawn' AND w."State" = 'Confirmed');
UPDATE "Lanes" SET "Kind" = lower("Kind");

CREATE TABLE "Parents" (
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "Raw" TEXT NOT NULL,
    CONSTRAINT "PK_Parents" PRIMARY KEY ("SystemId", "Kind", "Key")
);

CREATE TABLE "ReservedKeys" (
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Key" INTEGER NOT NULL,
    "IdempotencyKey" TEXT NOT NULL,
    CONSTRAINT "PK_ReservedKeys" PRIMARY KEY ("SystemId", "Kind", "Key")
);

CREATE INDEX "IX_Writes_RunId_Reference" ON "Writes" ("RunId", "Reference");
CREATE INDEX "IX_Remarks_RunId" ON "Remarks" ("RunId");
CREATE INDEX "IX_Records_SystemId_Kind_Reference" ON "Records" ("SystemId", "Kind", "Reference");
CREATE INDEX "IX_Records_SystemId_Kind_Group" ON "Records" ("SystemId", "Kind", "Group");
CREATE INDEX "IX_Proposals_CoupleId_Verdict_Reference" ON "Proposals" ("CoupleId", "Verdict", "Reference");
CREATE UNIQUE INDEX "IX_ReservedKeys_IdempotencyKey" ON "ReservedKeys" ("IdempotencyKey");
