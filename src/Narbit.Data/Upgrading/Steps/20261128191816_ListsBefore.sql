ALTER TABLE "Writes" ADD "ChildrenBefore" TEXT NULL;
