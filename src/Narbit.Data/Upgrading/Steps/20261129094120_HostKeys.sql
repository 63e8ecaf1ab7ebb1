CREATE TABLE "MetServers" (
    "Server" TEXT NOT NULL CONSTRAINT "PK_MetServers" PRIMARY KEY,
    "Fingerprint" TEXT NOT NULL,
    "MetAt" INTEGER NOT NULL
);
