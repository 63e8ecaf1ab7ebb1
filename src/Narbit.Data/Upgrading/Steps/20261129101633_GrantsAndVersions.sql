ALTER TABLE "Systems" ADD "GrantLostWhy" TEXT NULL;

ALTER TABLE "Systems" ADD "GrantedAt" INTEGER NULL;

ALTER TABLE "Systems" ADD "ProtectedGrant" TEXT NULL;

CREATE TABLE "DescriptionVersions" (
    "SystemId" TEXT NOT NULL,
    "Number" INTEGER NOT NULL,
    "Document" TEXT NOT NULL,
    "Address" TEXT NOT NULL,
    "Author" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    CONSTRAINT "PK_DescriptionVersions" PRIMARY KEY ("SystemId", "Number")
);
