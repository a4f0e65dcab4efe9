ALTER TABLE "networks" ADD COLUMN "ports" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "is_wired" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "links" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "ports" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
-- Projects of older programs have stations without links; the next start links them.
UPDATE "projects" SET "is_wired" = false;
--> statement-breakpoint
-- Rows whose owner is not there stay as they are: their constraint would be asked again.
UPDATE "networks" SET "settings" = '{"ring": false, "ringManager": "", "sendClockUs": 1000}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profinet'
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
--> statement-breakpoint
UPDATE "networks" SET "settings" = '{"ring": false, "ringManager": ""}'::jsonb || "settings" WHERE "settings" ->> 'kind' IN ('ethernet-ip', 'ring')
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
--> statement-breakpoint
UPDATE "networks" SET "settings" = '{"ring": false, "ringManager": "", "cycleUs": null}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'ethercat'
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
--> statement-breakpoint
UPDATE "networks" SET "settings" = '{"bitRateKbit": null, "masterAddress": 1}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profibus'
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"inputRatio": null, "outputRatio": null, "watchdogFactor": 3, "dataHoldFactor": 3}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profinet'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"watchdogMs": 100}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profibus'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
