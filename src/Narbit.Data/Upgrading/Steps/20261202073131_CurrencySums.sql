DROP INDEX "IX_OrderStandings_Stage_Total_Refunded_UsesDefaultItem";

CREATE INDEX "IX_OrderStandings_Stage_Currency_Total_Refunded_UsesDefaultItem" ON "OrderStandings" ("Stage", "Currency", "Total", "Refunded", "UsesDefaultItem");
