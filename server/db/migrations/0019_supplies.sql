ALTER TABLE "modules" ADD COLUMN "sends_every_s" double precision;--> statement-breakpoint
ALTER TABLE "modules" ADD COLUMN "feed" jsonb;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "feed" jsonb;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "second_feed" jsonb;
--> statement-breakpoint
-- Rows whose owner is not there stay as they are: their constraint would be asked again.
UPDATE "stations" SET "settings" = '{"outputVolts": null}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'passive'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"line": null}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'modbus-rtu'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "networks" SET "settings" = jsonb_set("settings", '{line,dataBits}', '8') WHERE "settings" ->> 'kind' = 'modbus-rtu'
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
--> statement-breakpoint
UPDATE "networks" SET "settings" = '{"canKbit": null}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'can-rack'
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"sameBothWays": false}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profinet'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"operationMode": ""}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'ethercat'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"isMulticast": false}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'ethernet-ip'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "stations" SET "settings" = '{"sharedWith": "", "redundancy": "S1", "secondController": ""}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profinet'
  AND EXISTS (SELECT FROM "networks" WHERE "networks"."project_id" = "stations"."project_id" AND "networks"."id" = "stations"."network_id");
--> statement-breakpoint
UPDATE "networks" SET "settings" = '{"masterClass": 1}'::jsonb || "settings" WHERE "settings" ->> 'kind' = 'profibus'
  AND EXISTS (SELECT FROM "controllers" WHERE "controllers"."project_id" = "networks"."project_id" AND "controllers"."id" = "networks"."controller_id");
