ALTER TABLE "modules" ADD COLUMN "layouts" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "modules" ADD COLUMN "identity" jsonb;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "reported" jsonb;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "data_layouts" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "layouts" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
-- Named bits of a number have a channel beside the number's own, which may begin at the same bit.
ALTER TABLE "signals" DROP CONSTRAINT "signals_channel";
--> statement-breakpoint
ALTER TABLE "signals" DROP COLUMN "only_channel";
--> statement-breakpoint
ALTER TABLE "signals" ADD COLUMN "only_channel" text GENERATED ALWAYS AS (CASE WHEN "stands_aside" THEN NULL ELSE ("place" ->> 'subslot') || '/' || ("place" ->> 'direction') || '/' || ("place" ->> 'offsetBits') || CASE WHEN "place" ? 'part' THEN '/part' ELSE '' END END) STORED;
--> statement-breakpoint
ALTER TABLE "signals" ADD CONSTRAINT "signals_channel" UNIQUE ("project_id", "place_module", "only_channel") DEFERRABLE INITIALLY DEFERRED;
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"outputIntervalUs": null, "inputIntervalUs": null, "timeoutMultiplier": 4}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'ethernet-ip';
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"onLost": "warning", "alarmPrefix": ""}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'can-rack';
