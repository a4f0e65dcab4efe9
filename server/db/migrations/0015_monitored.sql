-- Times of fail-safe connections are decisions and belong to the plan; they stood in one browser.
ALTER TABLE "stations" ADD COLUMN "monitored" jsonb DEFAULT '{}'::jsonb NOT NULL;
--> statement-breakpoint
ALTER TABLE "modules" ADD COLUMN "monitored" jsonb DEFAULT '{}'::jsonb NOT NULL;
