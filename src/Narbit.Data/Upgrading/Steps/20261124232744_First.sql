CREATE TABLE "Agreed" (
    "LaneId" TEXT NOT NULL,
    "TargetKey" TEXT NOT NULL,
    "Field" TEXT NOT NULL,
    "Value" TEXT NULL,
    "Source" TEXT NULL,
    "At" INTEGER NOT NULL,
    CONSTRAINT "PK_Agreed" PRIMARY KEY ("LaneId", "TargetKey", "Field")
);

CREATE TABLE "Lanes" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Lanes" PRIMARY KEY,
    "Kind" TEXT NOT NULL,
    "SourceId" TEXT NOT NULL,
    "TargetId" TEXT NOT NULL,
    "SkuStartsWith" TEXT NULL,
    "PublishedOnly" INTEGER NOT NULL,
    "RuleNumber" INTEGER NOT NULL,
    "EveryMinutes" INTEGER NULL,
    "Paused" INTEGER NOT NULL,
    "NextDueAt" INTEGER NULL,
    "ComparedRunId" INTEGER NULL,
    "ComparedAt" INTEGER NULL,
    "Paired" INTEGER NOT NULL,
    "InStep" INTEGER NOT NULL,
    "Waiting" INTEGER NOT NULL,
    "OutOfStep" INTEGER NOT NULL
);

CREATE TABLE "Pairs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Pairs" PRIMARY KEY AUTOINCREMENT,
    "HubId" TEXT NOT NULL,
    "OtherId" TEXT NOT NULL,
    "HubKey" TEXT NULL,
    "OtherKey" TEXT NULL,
    "Verdict" TEXT NOT NULL,
    "Evidence" TEXT NOT NULL,
    "Sku" TEXT NULL,
    "Title" TEXT NULL
);

CREATE TABLE "ReadPages" (
    "ReadId" INTEGER NOT NULL,
    "Number" INTEGER NOT NULL,
    "Keys" BLOB NOT NULL,
    CONSTRAINT "PK_ReadPages" PRIMARY KEY ("ReadId", "Number")
);

CREATE TABLE "Reads" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Reads" PRIMARY KEY AUTOINCREMENT,
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Since" INTEGER NULL,
    "Cursor" TEXT NULL,
    "State" TEXT NOT NULL,
    "Pages" INTEGER NOT NULL,
    "Records" INTEGER NOT NULL,
    "Listed" INTEGER NOT NULL,
    "Total" INTEGER NULL,
    "Changed" INTEGER NOT NULL,
    "Gone" INTEGER NOT NULL,
    "Troubled" INTEGER NOT NULL,
    "StartedAt" INTEGER NOT NULL,
    "EndedAt" INTEGER NULL,
    "Message" TEXT NULL
);

CREATE TABLE "Records" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Records" PRIMARY KEY AUTOINCREMENT,
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "Parent" TEXT NULL,
    "Sku" TEXT NULL,
    "Title" TEXT NULL,
    "Hash" BLOB NOT NULL,
    "Raw" TEXT NOT NULL,
    "Values" TEXT NOT NULL,
    "Problems" TEXT NULL,
    "ChangedAt" INTEGER NOT NULL,
    "GoneAt" INTEGER NULL
);

CREATE TABLE "Remarks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Remarks" PRIMARY KEY AUTOINCREMENT,
    "RunId" INTEGER NOT NULL,
    "HubKey" TEXT NULL,
    "TargetKey" TEXT NULL,
    "Sku" TEXT NULL,
    "Title" TEXT NULL,
    "Cause" TEXT NOT NULL,
    "Message" TEXT NOT NULL
);

CREATE TABLE "RuleVersions" (
    "LaneId" TEXT NOT NULL,
    "Number" INTEGER NOT NULL,
    "Document" TEXT NOT NULL,
    "Author" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "Note" TEXT NULL,
    CONSTRAINT "PK_RuleVersions" PRIMARY KEY ("LaneId", "Number")
);

CREATE TABLE "Runs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Runs" PRIMARY KEY AUTOINCREMENT,
    "LaneId" TEXT NOT NULL,
    "Preview" INTEGER NOT NULL,
    "Trigger" TEXT NOT NULL,
    "StartedBy" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "Phase" TEXT NOT NULL,
    "RuleNumber" INTEGER NOT NULL,
    "StartedAt" INTEGER NOT NULL,
    "PlannedAt" INTEGER NULL,
    "EndedAt" INTEGER NULL,
    "Paired" INTEGER NOT NULL,
    "InStep" INTEGER NOT NULL,
    "Remarked" INTEGER NOT NULL,
    "Message" TEXT NULL
);

CREATE TABLE "Systems" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Systems" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Mark" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "Decimals" INTEGER NOT NULL,
    "Document" TEXT NOT NULL,
    "Address" TEXT NOT NULL,
    "ProtectedCredential" TEXT NULL,
    "CredentialSetAt" INTEGER NULL,
    "MayRead" INTEGER NOT NULL,
    "MayWrite" INTEGER NOT NULL,
    "TestedAt" INTEGER NULL,
    "TestOk" INTEGER NULL,
    "TestMessage" TEXT NULL,
    "Revision" INTEGER NOT NULL
);

CREATE TABLE "Workspaces" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Workspaces" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "TimeZone" TEXT NOT NULL,
    "HubId" TEXT NOT NULL,
    "Person" TEXT NOT NULL
);

CREATE TABLE "Writes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Writes" PRIMARY KEY AUTOINCREMENT,
    "RunId" INTEGER NOT NULL,
    "HubKey" TEXT NOT NULL,
    "TargetKey" TEXT NOT NULL,
    "Sku" TEXT NULL,
    "Title" TEXT NULL,
    "Kind" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "HoldReason" TEXT NULL,
    "Move" REAL NULL,
    "IdempotencyKey" TEXT NOT NULL,
    "Attempts" INTEGER NOT NULL,
    "Message" TEXT NULL,
    "SentAt" INTEGER NULL,
    "ConfirmedAt" INTEGER NULL,
    "Source" TEXT NULL
);

CREATE TABLE "WriteFields" (
    "WriteId" INTEGER NOT NULL,
    "Field" TEXT NOT NULL,
    "Position" INTEGER NOT NULL,
    "Old" TEXT NULL,
    "New" TEXT NULL,
    "Trace" TEXT NULL,
    CONSTRAINT "PK_WriteFields" PRIMARY KEY ("WriteId", "Field"),
    CONSTRAINT "FK_WriteFields_Writes_WriteId" FOREIGN KEY ("WriteId") REFERENCES "Writes" ("Id") ON DELETE CASCADE
);

CREATE UNIQUE INDEX "IX_Pairs_HubId_OtherId_OtherKey" ON "Pairs" ("HubId", "OtherId", "OtherKey") WHERE "OtherKey" IS NOT NULL;

CREATE INDEX "IX_Pairs_HubId_OtherId_Verdict_Sku" ON "Pairs" ("HubId", "OtherId", "Verdict", "Sku");

CREATE UNIQUE INDEX "IX_Reads_SystemId_Kind" ON "Reads" ("SystemId", "Kind") WHERE "State" = 'Reading';

CREATE INDEX "IX_Reads_SystemId_Kind_StartedAt" ON "Reads" ("SystemId", "Kind", "StartedAt");

CREATE UNIQUE INDEX "IX_Records_SystemId_Kind_Key" ON "Records" ("SystemId", "Kind", "Key");

CREATE INDEX "IX_Records_SystemId_Kind_Parent" ON "Records" ("SystemId", "Kind", "Parent");

CREATE INDEX "IX_Records_SystemId_Kind_Sku" ON "Records" ("SystemId", "Kind", "Sku");

CREATE INDEX "IX_Remarks_RunId_Cause" ON "Remarks" ("RunId", "Cause");

CREATE UNIQUE INDEX "IX_Runs_LaneId" ON "Runs" ("LaneId") WHERE "State" = 'Working';

CREATE INDEX "IX_Runs_StartedAt" ON "Runs" ("StartedAt");

CREATE UNIQUE INDEX "IX_Writes_IdempotencyKey" ON "Writes" ("IdempotencyKey");

CREATE INDEX "IX_Writes_RunId_Sku" ON "Writes" ("RunId", "Sku");

CREATE INDEX "IX_Writes_RunId_State" ON "Writes" ("RunId", "State");
