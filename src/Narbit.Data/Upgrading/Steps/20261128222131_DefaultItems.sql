ALTER TABLE "OrderStandings" ADD "DefaultItemLines" TEXT NOT NULL DEFAULT '';
