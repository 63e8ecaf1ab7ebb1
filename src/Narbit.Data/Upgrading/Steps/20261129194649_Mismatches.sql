DROP TABLE "Causes";

ALTER TABLE "OrderStandings" ADD "Details" TEXT NOT NULL DEFAULT '';

CREATE TABLE "ActsOn" (
    "ActId" INTEGER NOT NULL,
    "MismatchId" INTEGER NOT NULL,
    "StateBefore" TEXT NOT NULL,
    "UntilBefore" INTEGER NULL,
    "OwnerBefore" TEXT NULL,
    CONSTRAINT "PK_ActsOn" PRIMARY KEY ("ActId", "MismatchId")
);

CREATE TABLE "Mails" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Mails" PRIMARY KEY AUTOINCREMENT,
    "Person" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "Subject" TEXT NOT NULL,
    "Text" TEXT NOT NULL,
    "Html" TEXT NOT NULL,
    "MadeAt" INTEGER NOT NULL,
    "SentAt" INTEGER NULL,
    "Tries" INTEGER NOT NULL,
    "NextAt" INTEGER NULL,
    "Fault" TEXT NULL
);

CREATE TABLE "MailServers" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_MailServers" PRIMARY KEY AUTOINCREMENT,
    "Host" TEXT NOT NULL,
    "Port" INTEGER NOT NULL,
    "Security" TEXT NOT NULL,
    "User" TEXT NULL,
    "ProtectedPassword" TEXT NULL,
    "From" TEXT NOT NULL,
    "LinksTo" TEXT NOT NULL,
    "Since" INTEGER NOT NULL,
    "DailyAt" TEXT NOT NULL
);

CREATE TABLE "MismatchActs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_MismatchActs" PRIMARY KEY AUTOINCREMENT,
    "Kind" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "Words" TEXT NULL,
    "Undo" TEXT NULL,
    "Count" INTEGER NOT NULL,
    "Learned" INTEGER NOT NULL,
    "UndoneAt" INTEGER NULL,
    "UndoneBy" TEXT NULL
);

CREATE TABLE "MismatchDays" (
    "Day" TEXT NOT NULL,
    "Cause" TEXT NOT NULL,
    "Open" INTEGER NOT NULL,
    CONSTRAINT "PK_MismatchDays" PRIMARY KEY ("Day", "Cause")
);

CREATE TABLE "Mismatches" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Mismatches" PRIMARY KEY AUTOINCREMENT,
    "Cause" TEXT NOT NULL,
    "SystemId" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "Scope" TEXT NOT NULL,
    "Origin" TEXT NOT NULL,
    "OtherSystemId" TEXT NULL,
    "OtherKey" TEXT NULL,
    "LaneId" TEXT NULL,
    "CoupleId" INTEGER NULL,
    "RunId" INTEGER NULL,
    "Reference" TEXT NULL,
    "Caption" TEXT NULL,
    "Words" TEXT NOT NULL,
    "Subject" TEXT NULL,
    "Hint" TEXT NULL,
    "Proposal" TEXT NULL,
    "Because" TEXT NULL,
    "Pieces" REAL NULL,
    "Worth" INTEGER NULL,
    "Currency" TEXT NULL,
    "Since" INTEGER NOT NULL,
    "FirstSeenAt" INTEGER NOT NULL,
    "OpenedAt" INTEGER NOT NULL,
    "SeenAt" INTEGER NOT NULL,
    "Seen" INTEGER NOT NULL,
    "CameBack" INTEGER NOT NULL,
    "State" TEXT NOT NULL,
    "Until" INTEGER NULL,
    "Owner" TEXT NULL,
    "SettledBy" TEXT NULL,
    "EndedAt" INTEGER NULL,
    "ActId" INTEGER NULL
);

CREATE TABLE "Told" (
    "Person" TEXT NOT NULL CONSTRAINT "PK_Told" PRIMARY KEY,
    "Until" INTEGER NOT NULL,
    "AtOnceAt" INTEGER NULL,
    "SummedUpOn" TEXT NULL
);

CREATE TABLE "Wishes" (
    "Person" TEXT NOT NULL,
    "Harm" TEXT NOT NULL,
    "When" TEXT NOT NULL,
    CONSTRAINT "PK_Wishes" PRIMARY KEY ("Person", "Harm")
);

CREATE INDEX "IX_ActsOn_MismatchId" ON "ActsOn" ("MismatchId");

CREATE INDEX "IX_Mails_NextAt" ON "Mails" ("NextAt") WHERE "NextAt" IS NOT NULL;

CREATE INDEX "IX_MismatchActs_Learned" ON "MismatchActs" ("Learned") WHERE "Learned" = 1;

CREATE INDEX "IX_Mismatches_ActId" ON "Mismatches" ("ActId") WHERE "ActId" IS NOT NULL;

CREATE UNIQUE INDEX "IX_Mismatches_Cause_SystemId_Kind_Key_Scope" ON "Mismatches" ("Cause", "SystemId", "Kind", "Key", "Scope");

CREATE INDEX "IX_Mismatches_LaneId_State_Cause" ON "Mismatches" ("LaneId", "State", "Cause");

CREATE INDEX "IX_Mismatches_OpenedAt_State" ON "Mismatches" ("OpenedAt", "State");

CREATE INDEX "IX_Mismatches_Origin_State" ON "Mismatches" ("Origin", "State");

CREATE INDEX "IX_Mismatches_State_Cause_Since" ON "Mismatches" ("State", "Cause", "Since");

CREATE INDEX "IX_Mismatches_State_Cause_SystemId_Currency_Worth_Pieces_Since_OtherSystemId_Kind_Owner" ON "Mismatches" ("State", "Cause", "SystemId", "Currency", "Worth", "Pieces", "Since", "OtherSystemId", "Kind", "Owner");

CREATE INDEX "IX_Mismatches_State_Until" ON "Mismatches" ("State", "Until") WHERE "State" = 'PutOff';
