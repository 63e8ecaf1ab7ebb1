ALTER TABLE "Workspaces" ADD "Dates" TEXT NOT NULL DEFAULT 'DayFirst';

ALTER TABLE "Workspaces" ADD "FirstDay" TEXT NOT NULL DEFAULT 'Monday';

ALTER TABLE "Workspaces" ADD "Numbers" TEXT NOT NULL DEFAULT 'Point';
