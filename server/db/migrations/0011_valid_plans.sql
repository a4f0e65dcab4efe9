CREATE TABLE "instance" (
	"one" boolean PRIMARY KEY DEFAULT true NOT NULL,
	"epoch" text DEFAULT gen_random_uuid()::text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sign_in_tries" (
	"key" text PRIMARY KEY NOT NULL,
	"tries" integer NOT NULL,
	"next_at" timestamp with time zone NOT NULL,
	"forgotten_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "modules" ADD COLUMN "stands_aside" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "signals" ADD COLUMN "stands_aside" boolean DEFAULT false NOT NULL;--> statement-breakpoint
INSERT INTO "instance" DEFAULT VALUES;
--> statement-breakpoint
-- One module a slot; of those that contend already all but one stand aside until they are repaired.
UPDATE "modules" SET "stands_aside" = true FROM (
  SELECT "project_id", "id", row_number() OVER (PARTITION BY "project_id", "station_id", "slot" ORDER BY "id") AS "nth" FROM "modules"
) AS "ranked" WHERE "ranked"."nth" > 1 AND "ranked"."project_id" = "modules"."project_id" AND "ranked"."id" = "modules"."id";
--> statement-breakpoint
-- One signal a channel.
UPDATE "signals" SET "stands_aside" = true FROM (
  SELECT "project_id", "id", row_number() OVER (PARTITION BY "project_id", "place" ORDER BY "id") AS "nth" FROM "signals" WHERE jsonb_typeof("place") = 'object'
) AS "ranked" WHERE "ranked"."nth" > 1 AND "ranked"."project_id" = "signals"."project_id" AND "ranked"."id" = "signals"."id";
--> statement-breakpoint
-- Owners must be there when a transaction ends. Rows that older programs left without one stay until they are repaired.
ALTER TABLE "networks" ADD CONSTRAINT "networks_controller" FOREIGN KEY ("project_id", "controller_id") REFERENCES "controllers" ("project_id", "id") DEFERRABLE INITIALLY DEFERRED NOT VALID;
--> statement-breakpoint
ALTER TABLE "stations" ADD CONSTRAINT "stations_network" FOREIGN KEY ("project_id", "network_id") REFERENCES "networks" ("project_id", "id") DEFERRABLE INITIALLY DEFERRED NOT VALID;
--> statement-breakpoint
ALTER TABLE "modules" ADD CONSTRAINT "modules_station" FOREIGN KEY ("project_id", "station_id") REFERENCES "stations" ("project_id", "id") DEFERRABLE INITIALLY DEFERRED NOT VALID;
--> statement-breakpoint
CREATE INDEX "networks_controller" ON "networks" ("project_id", "controller_id");
--> statement-breakpoint
CREATE INDEX "stations_network" ON "stations" ("project_id", "network_id");
--> statement-breakpoint
ALTER TABLE "modules" ADD COLUMN "only_slot" integer GENERATED ALWAYS AS (CASE WHEN "stands_aside" THEN NULL ELSE "slot" END) STORED;
--> statement-breakpoint
ALTER TABLE "modules" ADD CONSTRAINT "modules_slot" UNIQUE ("project_id", "station_id", "only_slot") DEFERRABLE INITIALLY DEFERRED;
--> statement-breakpoint
ALTER TABLE "signals" ADD COLUMN "place_module" text GENERATED ALWAYS AS ("place" ->> 'moduleId') STORED;
--> statement-breakpoint
ALTER TABLE "signals" ADD COLUMN "only_channel" text GENERATED ALWAYS AS (CASE WHEN "stands_aside" THEN NULL ELSE ("place" ->> 'subslot') || '/' || ("place" ->> 'direction') || '/' || ("place" ->> 'offsetBits') END) STORED;
--> statement-breakpoint
ALTER TABLE "signals" ADD CONSTRAINT "signals_channel" UNIQUE ("project_id", "place_module", "only_channel") DEFERRABLE INITIALLY DEFERRED;
--> statement-breakpoint
-- A signal sits on a module or on a head: a reference to one of two tables, which no foreign key can say.
CREATE FUNCTION "kataxis_holder_is_there"("project" text, "holder" text) RETURNS boolean LANGUAGE sql STABLE AS $$
  SELECT EXISTS (SELECT FROM "modules" WHERE "project_id" = "project" AND "id" = "holder")
      OR EXISTS (SELECT FROM "stations" WHERE "project_id" = "project" AND "id" = "holder")
$$;
--> statement-breakpoint
CREATE FUNCTION "kataxis_signal_sits"() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE holder text;
BEGIN
  SELECT "place_module" INTO holder FROM "signals" WHERE "project_id" = NEW."project_id" AND "id" = NEW."id";
  IF holder IS NOT NULL AND NOT "kataxis_holder_is_there"(NEW."project_id", holder) THEN
    RAISE EXCEPTION 'signal % sits on a module that is not there', NEW."id" USING ERRCODE = 'foreign_key_violation', CONSTRAINT = 'signals_place';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION "kataxis_holder_goes"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT FROM "signals" WHERE "project_id" = OLD."project_id" AND "place_module" = OLD."id")
    AND NOT "kataxis_holder_is_there"(OLD."project_id", OLD."id") THEN
    RAISE EXCEPTION 'signals still sit on %', OLD."id" USING ERRCODE = 'foreign_key_violation', CONSTRAINT = 'signals_place';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "signals_placed" AFTER INSERT ON "signals" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW WHEN (NEW."place_module" IS NOT NULL) EXECUTE FUNCTION "kataxis_signal_sits"();
--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "signals_moved" AFTER UPDATE ON "signals" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW WHEN (NEW."place_module" IS NOT NULL AND OLD."place_module" IS DISTINCT FROM NEW."place_module") EXECUTE FUNCTION "kataxis_signal_sits"();
--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "modules_hold" AFTER DELETE ON "modules" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "kataxis_holder_goes"();
--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "stations_hold" AFTER DELETE ON "stations" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "kataxis_holder_goes"();
--> statement-breakpoint
-- Takes a project for a change at the revision that the changer knows, before anything else is locked; whoever comes second is refused.
CREATE FUNCTION "kataxis_claim"("project" text, "at" integer, "of" text, "who" text) RETURNS text LANGUAGE plpgsql AS $$
DECLARE "stands" integer;
BEGIN
  SELECT "revision" INTO "stands" FROM "projects" WHERE "id" = "project" FOR NO KEY UPDATE;
  IF "stands" IS DISTINCT FROM "at"
    OR "of" IS DISTINCT FROM (SELECT "epoch" || ':' || (SELECT "oid" FROM "pg_database" WHERE "datname" = current_database()) FROM "instance")
    OR ("who" IS NOT NULL AND NOT EXISTS (SELECT FROM "users" WHERE "id" = "who")) THEN
    RAISE EXCEPTION 'somebody was quicker' USING ERRCODE = 'KX001';
  END IF;
  RETURN "project";
END $$;
