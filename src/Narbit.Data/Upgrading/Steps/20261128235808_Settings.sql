ALTER TABLE "Workspaces" ADD "Currency" TEXT NULL;

ALTER TABLE "Lanes" ADD "Name" TEXT NULL;

CREATE TABLE "Colleagues" (
    "Name" TEXT NOT NULL CONSTRAINT "PK_Colleagues" PRIMARY KEY,
    "Mail" TEXT NULL
);

CREATE TABLE "ef_temp_Workspaces" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Workspaces" PRIMARY KEY AUTOINCREMENT,
    "AnonymiseAfterDays" INTEGER NULL,
    "Country" TEXT NULL,
    "Currency" TEXT NULL,
    "HubId" TEXT NULL,
    "Name" TEXT NOT NULL,
    "Person" TEXT NOT NULL,
    "TimeZone" TEXT NOT NULL
);

INSERT INTO "ef_temp_Workspaces" ("Id", "AnonymiseAfterDays", "Country", "Currency", "HubId", "Name", "Person", "TimeZone")
SELECT "Id", "AnonymiseAfterDays", "Country", "Currency", "HubId", "Name", "Person", "TimeZone"
FROM "Workspaces";

DROP TABLE "Workspaces";

ALTER TABLE "ef_temp_Workspaces" RENAME TO "Workspaces";
