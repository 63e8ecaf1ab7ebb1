CREATE TABLE "OrderDecisions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OrderDecisions" PRIMARY KEY AUTOINCREMENT,
    "LaneId" TEXT NOT NULL,
    "OrderKey" TEXT NULL,
    "Kind" TEXT NOT NULL,
    "Subject" TEXT NULL,
    "Value" TEXT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "UndoneAt" INTEGER NULL
);

CREATE INDEX "IX_OrderDecisions_LaneId_OrderKey" ON "OrderDecisions" ("LaneId", "OrderKey");
