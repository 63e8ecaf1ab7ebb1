CREATE INDEX "IX_OrderStandings_Stage_Total_Refunded_UsesDefaultItem" ON "OrderStandings" ("Stage", "Total", "Refunded", "UsesDefaultItem");
