-- What only some kinds of network have moves from columns of its own, empty elsewhere, into the
-- settings of its kind: of networks and stations as they stand, and as the history tells them.
CREATE FUNCTION "kataxis_network_settings"("kind" text, "old" jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_build_object('kind', "kind")
    || CASE WHEN "kind" IN ('profinet', 'ethernet-ip', 'modbus-tcp') THEN jsonb_build_object(
      'controllerIp', coalesce("old" -> 'controllerIp', '""'),
      'prefixLength', coalesce("old" -> 'prefixLength', '24')) ELSE '{}' END
    || CASE WHEN "kind" = 'ethernet-ip' THEN jsonb_build_object(
      'rolePattern', coalesce("old" -> 'rolePattern', '""'),
      'safetyNetworkNumber', coalesce("old" -> 'safetyNetworkNumber', '""')) ELSE '{}' END
    || CASE WHEN "kind" IN ('modbus-tcp', 'modbus-rtu') THEN jsonb_build_object(
      'requestMs', coalesce("old" -> 'requestMs', '500')) ELSE '{}' END
    || CASE WHEN "kind" = 'modbus-rtu' THEN jsonb_build_object(
      'line', coalesce("old" -> 'line', '{"baud": 19200, "parity": "even", "stopBits": 1}')) ELSE '{}' END
$$;
--> statement-breakpoint
CREATE FUNCTION "kataxis_station_settings"("kind" text, "old" jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_build_object('kind', "kind")
    || CASE WHEN "kind" IN ('profinet', 'ethernet-ip', 'modbus-tcp') THEN jsonb_build_object(
      'ip', coalesce("old" -> 'ip', '""')) ELSE '{}' END
    || CASE WHEN "kind" = 'ethernet-ip' THEN jsonb_build_object(
      'roleName', coalesce("old" -> 'roleName', '""'),
      'safetyConfiguration', coalesce("old" -> 'safetyConfiguration', 'null')) ELSE '{}' END
    || CASE WHEN "kind" = 'ethercat' THEN jsonb_build_object(
      'startUp', coalesce("old" -> 'startUp', '[]')) ELSE '{}' END
$$;
--> statement-breakpoint
-- The kind of every network there is or ever was.
CREATE TABLE "kataxis_network_kinds" AS
  SELECT DISTINCT ON ("project_id", "id") "project_id", "id", "kind" FROM (
    SELECT 0 AS "rank", "project_id", "id", "kind" FROM "networks"
    UNION ALL
    SELECT 1, "project_id", "row" ->> 'id', "row" ->> 'kind'
    FROM "changes", jsonb_array_elements("changes"."changes") AS "change", LATERAL (VALUES ("change" -> 'before'), ("change" -> 'after')) AS "side"("row")
    WHERE "change" ->> 'table' = 'networks' AND "row" ? 'kind'
  ) AS "known" ORDER BY "project_id", "id", "rank";
--> statement-breakpoint
-- A row of the history in the words of today.
CREATE FUNCTION "kataxis_lifted"("project" text, "table" text, "old" jsonb) RETURNS jsonb LANGUAGE sql STABLE AS $$
  SELECT CASE
    WHEN jsonb_typeof("old") <> 'object' OR "old" ? 'settings' THEN "old"
    WHEN "table" = 'networks' THEN
      ("old" - '{kind,controllerIp,prefixLength,rolePattern,line,requestMs,safetyNetworkNumber}'::text[])
      || jsonb_build_object('settings', "kataxis_network_settings"(coalesce("old" ->> 'kind', 'profinet'), "old"))
    WHEN "table" = 'stations' THEN
      ("old" - '{ip,roleName,safetyConfiguration,startUp}'::text[])
      || jsonb_build_object('settings', "kataxis_station_settings"(coalesce(
        (SELECT "kind" FROM "kataxis_network_kinds" WHERE "project_id" = "project" AND "id" = "old" ->> 'networkId'), 'profinet'), "old"))
    ELSE "old" END
$$;
--> statement-breakpoint
UPDATE "changes" SET "changes" = (
  SELECT coalesce(jsonb_agg("change" || jsonb_build_object(
    'before', "kataxis_lifted"("changes"."project_id", "change" ->> 'table', "change" -> 'before'),
    'after', "kataxis_lifted"("changes"."project_id", "change" ->> 'table', "change" -> 'after')) ORDER BY "at"), '[]')
  FROM jsonb_array_elements("changes"."changes") WITH ORDINALITY AS "all"("change", "at"))
WHERE "changes" @? '$[*] ? (@.table == "networks" || @.table == "stations")';
--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "settings" jsonb;
--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "settings" jsonb;
--> statement-breakpoint
UPDATE "networks" SET "settings" = "kataxis_network_settings"("kind", jsonb_build_object(
  'controllerIp', "controller_ip", 'prefixLength', "prefix_length", 'rolePattern', "role_pattern",
  'line', "line", 'requestMs', "request_ms", 'safetyNetworkNumber', "safety_network_number"));
--> statement-breakpoint
UPDATE "stations" SET "settings" = "kataxis_station_settings"(
  coalesce((SELECT "kind" FROM "kataxis_network_kinds" AS "known" WHERE "known"."project_id" = "stations"."project_id" AND "known"."id" = "stations"."network_id"), 'profinet'),
  jsonb_build_object('ip', "ip", 'roleName', "role_name", 'safetyConfiguration', "safety_configuration", 'startUp', "start_up"));
--> statement-breakpoint
SET CONSTRAINTS ALL IMMEDIATE;
--> statement-breakpoint
ALTER TABLE "networks" ALTER COLUMN "settings" SET NOT NULL;
--> statement-breakpoint
ALTER TABLE "networks" DROP COLUMN "kind", DROP COLUMN "controller_ip", DROP COLUMN "prefix_length", DROP COLUMN "role_pattern", DROP COLUMN "line", DROP COLUMN "request_ms", DROP COLUMN "safety_network_number";
--> statement-breakpoint
ALTER TABLE "stations" ALTER COLUMN "settings" SET NOT NULL;
--> statement-breakpoint
ALTER TABLE "stations" DROP COLUMN "ip", DROP COLUMN "role_name", DROP COLUMN "safety_configuration", DROP COLUMN "start_up";
--> statement-breakpoint
DROP FUNCTION "kataxis_lifted"(text, text, jsonb);
--> statement-breakpoint
DROP FUNCTION "kataxis_station_settings"(text, jsonb);
--> statement-breakpoint
DROP FUNCTION "kataxis_network_settings"(text, jsonb);
--> statement-breakpoint
DROP TABLE "kataxis_network_kinds";
