CREATE TABLE "OrderGoods" (
    "StandingId" INTEGER NOT NULL,
    "Item" TEXT NOT NULL,
    "Pieces" INTEGER NOT NULL,
    CONSTRAINT "PK_OrderGoods" PRIMARY KEY ("StandingId", "Item"),
    CONSTRAINT "FK_OrderGoods_OrderStandings_StandingId" FOREIGN KEY ("StandingId") REFERENCES "OrderStandings" ("Id") ON DELETE CASCADE
);

CREATE TABLE "OrderSkus" (
    "StandingId" INTEGER NOT NULL,
    "Sku" TEXT NOT NULL,
    CONSTRAINT "PK_OrderSkus" PRIMARY KEY ("StandingId", "Sku"),
    CONSTRAINT "FK_OrderSkus_OrderStandings_StandingId" FOREIGN KEY ("StandingId") REFERENCES "OrderStandings" ("Id") ON DELETE CASCADE
);

CREATE TABLE "StandingCauses" (
    "StandingId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "Code" TEXT NOT NULL,
    "Outcome" TEXT NOT NULL,
    "Subject" TEXT NULL,
    "Line" TEXT NULL,
    "Values" TEXT NULL,
    CONSTRAINT "PK_StandingCauses" PRIMARY KEY ("StandingId", "Position"),
    CONSTRAINT "FK_StandingCauses_OrderStandings_StandingId" FOREIGN KEY ("StandingId") REFERENCES "OrderStandings" ("Id") ON DELETE CASCADE
);

CREATE INDEX "IX_OrderSkus_Sku" ON "OrderSkus" ("Sku");

CREATE INDEX "IX_StandingCauses_Code" ON "StandingCauses" ("Code");

WITH RECURSIVE Part (Id, One, Rest) AS (
    SELECT Id, '', trim(Skus) || ' ' FROM OrderStandings WHERE trim(Skus) <> ''
    UNION ALL
    SELECT Id, substr(Rest, 1, instr(Rest, ' ') - 1), substr(Rest, instr(Rest, ' ') + 1) FROM Part WHERE Rest <> ''
)
INSERT OR IGNORE INTO OrderSkus (StandingId, Sku) SELECT Id, One FROM Part WHERE One <> '';

WITH RECURSIVE Part (Id, One, Rest) AS (
    SELECT Id, '', trim(Goods) || ' ' FROM OrderStandings WHERE trim(Goods) <> ''
    UNION ALL
    SELECT Id, substr(Rest, 1, instr(Rest, ' ') - 1), substr(Rest, instr(Rest, ' ') + 1) FROM Part WHERE Rest <> ''
)
INSERT OR IGNORE INTO OrderGoods (StandingId, Item, Pieces)
SELECT Id, substr(One, 1, instr(One, '×') - 1), CAST(substr(One, instr(One, '×') + 1) AS INTEGER)
FROM Part WHERE instr(One, '×') > 1;

INSERT INTO StandingCauses (StandingId, Position, Code, Outcome, Subject, "Values")
SELECT o.Id, c.key, json_extract(c.value, '$.Code'), CASE o.Stage WHEN 'Waiting' THEN 'Wait' ELSE 'Hold' END,
    json_extract(c.value, '$.Subject'),
    json_patch('{}', json_object('title', json_extract(c.value, '$.Hint'), 'why', json_extract(c.value, '$.Words')))
FROM OrderStandings o, json_each(o.Details) c
WHERE o.Details <> '';

INSERT INTO StandingCauses (StandingId, Position, Code, Outcome, "Values")
SELECT Id, 0, substr(trim(Causes), 1, instr(trim(Causes) || ' ', ' ') - 1),
    CASE Stage WHEN 'Waiting' THEN 'Wait' ELSE 'Hold' END, json_object('why', coalesce(Words, trim(Causes)))
FROM OrderStandings WHERE Details = '' AND trim(Causes) <> '';

UPDATE OrderStandings SET Skus = '';

ALTER TABLE "OrderStandings" RENAME COLUMN "Skus" TO "Fingerprint";

CREATE TABLE "ef_temp_OrderStandings" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OrderStandings" PRIMARY KEY AUTOINCREMENT,
    "Buyer" TEXT NULL,
    "ComputedAt" INTEGER NOT NULL,
    "Currency" TEXT NULL,
    "DefaultItemLines" TEXT NOT NULL,
    "Email" TEXT NULL,
    "Fingerprint" TEXT NOT NULL,
    "HubKey" TEXT NULL,
    "LaneId" TEXT NOT NULL,
    "Number" TEXT NULL,
    "PlacedAt" INTEGER NOT NULL,
    "Refunded" REAL NOT NULL,
    "SourceKey" TEXT NOT NULL,
    "Stage" TEXT NOT NULL,
    "Total" REAL NOT NULL,
    "Untracked" INTEGER NOT NULL,
    "UsesDefaultItem" INTEGER NOT NULL
);

INSERT INTO "ef_temp_OrderStandings" ("Id", "Buyer", "ComputedAt", "Currency", "DefaultItemLines", "Email", "Fingerprint", "HubKey", "LaneId", "Number", "PlacedAt", "Refunded", "SourceKey", "Stage", "Total", "Untracked", "UsesDefaultItem")
SELECT "Id", "Buyer", "ComputedAt", "Currency", "DefaultItemLines", "Email", "Fingerprint", "HubKey", "LaneId", "Number", "PlacedAt", "Refunded", "SourceKey", "Stage", "Total", "Untracked", "UsesDefaultItem"
FROM "OrderStandings";

DROP TABLE "OrderStandings";

ALTER TABLE "ef_temp_OrderStandings" RENAME TO "OrderStandings";

CREATE UNIQUE INDEX "IX_OrderStandings_LaneId_SourceKey" ON "OrderStandings" ("LaneId", "SourceKey");

CREATE INDEX "IX_OrderStandings_Number" ON "OrderStandings" ("Number");

CREATE INDEX "IX_OrderStandings_PlacedAt" ON "OrderStandings" ("PlacedAt");

CREATE INDEX "IX_OrderStandings_Stage_Currency_Total_Refunded_UsesDefaultItem" ON "OrderStandings" ("Stage", "Currency", "Total", "Refunded", "UsesDefaultItem");

CREATE INDEX "IX_OrderStandings_Stage_PlacedAt" ON "OrderStandings" ("Stage", "PlacedAt");
