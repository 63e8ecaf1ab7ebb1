ALTER TABLE "Writes" ADD "Act" TEXT NOT NULL DEFAULT 'Update';

ALTER TABLE "Writes" ADD "Group" TEXT NULL;

ALTER TABLE "Writes" ADD "Guards" TEXT NOT NULL DEFAULT '';

ALTER TABLE "Writes" ADD "ParentKey" TEXT NULL;

ALTER TABLE "Writes" ADD "TakenBackIn" INTEGER NULL;

ALTER TABLE "Writes" ADD "ToSource" INTEGER NOT NULL DEFAULT 0;

ALTER TABLE "Runs" ADD "Chosen" TEXT NULL;

ALTER TABLE "Runs" ADD "RollsBack" INTEGER NULL;

ALTER TABLE "Runs" ADD "Tripped" TEXT NULL;

ALTER TABLE "RuleVersions" ADD "Guards" TEXT NULL;

ALTER TABLE "Lanes" ADD "Off" INTEGER NOT NULL DEFAULT 0;

CREATE TABLE "KeptOff" (
    "LaneId" TEXT NOT NULL,
    "HubKey" TEXT NOT NULL,
    CONSTRAINT "PK_KeptOff" PRIMARY KEY ("LaneId", "HubKey")
);

CREATE TABLE "ValueChanges" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_ValueChanges" PRIMARY KEY AUTOINCREMENT,
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "Field" TEXT NOT NULL,
    "Old" TEXT NULL,
    "New" TEXT NULL,
    "At" INTEGER NOT NULL
);

CREATE INDEX "IX_Writes_TargetKey" ON "Writes" ("TargetKey");

CREATE INDEX "IX_ValueChanges_SystemId_Kind_Key_Field" ON "ValueChanges" ("SystemId", "Kind", "Key", "Field");

CREATE TRIGGER Records_ValueChanges AFTER UPDATE OF "Values" ON Records
WHEN new.Kind = 'Item' AND old."Values" <> new."Values"
BEGIN
    INSERT INTO ValueChanges (SystemId, Kind, Key, Field, Old, New, At)
    SELECT new.SystemId, new.Kind, new.Key, n.key, o.value, n.value, new.ChangedAt
    FROM json_each(new."Values") n LEFT JOIN json_each(old."Values") o ON o.key = n.key
    WHERE o.value IS NOT n.value
    UNION ALL
    SELECT new.SystemId, new.Kind, new.Key, o.key, o.value, NULL, new.ChangedAt
    FROM json_each(old."Values") o
    WHERE NOT EXISTS (SELECT 1 FROM json_each(new."Values") n WHERE n.key = o.key);
END;
