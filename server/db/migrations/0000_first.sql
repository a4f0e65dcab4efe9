CREATE TABLE "changes" (
	"project_id" text NOT NULL,
	"revision" integer NOT NULL,
	"command_id" text NOT NULL,
	"author" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"kind" text NOT NULL,
	"target" integer,
	"undone" boolean DEFAULT false NOT NULL,
	"command" jsonb,
	"changes" jsonb NOT NULL,
	CONSTRAINT "changes_project_id_revision_pk" PRIMARY KEY("project_id","revision")
);
--> statement-breakpoint
CREATE TABLE "controllers" (
	"project_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"position" double precision NOT NULL,
	"input_bytes" integer NOT NULL,
	"output_bytes" integer NOT NULL,
	"aligned" boolean NOT NULL,
	CONSTRAINT "controllers_project_id_id_pk" PRIMARY KEY("project_id","id")
);
--> statement-breakpoint
CREATE TABLE "description_files" (
	"sha256" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"bytes" bigint NOT NULL,
	"content" "bytea" NOT NULL,
	"catalog" jsonb NOT NULL,
	"summary" jsonb NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "modules" (
	"project_id" text NOT NULL,
	"id" text NOT NULL,
	"station_id" text NOT NULL,
	"slot" integer NOT NULL,
	"module" text NOT NULL,
	"addresses" jsonb NOT NULL,
	CONSTRAINT "modules_project_id_id_pk" PRIMARY KEY("project_id","id")
);
--> statement-breakpoint
CREATE TABLE "networks" (
	"project_id" text NOT NULL,
	"id" text NOT NULL,
	"controller_id" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"position" double precision NOT NULL,
	"controller_ip" text NOT NULL,
	"prefix_length" integer NOT NULL,
	CONSTRAINT "networks_project_id_id_pk" PRIMARY KEY("project_id","id")
);
--> statement-breakpoint
CREATE TABLE "projects" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"tag_length" integer NOT NULL,
	"revision" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rehearsals" (
	"project_id" text PRIMARY KEY NOT NULL,
	"state" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "signals" (
	"project_id" text NOT NULL,
	"id" text NOT NULL,
	"place" jsonb,
	"tag" text NOT NULL,
	"comment" text NOT NULL,
	"terminal" text NOT NULL,
	CONSTRAINT "signals_project_id_id_pk" PRIMARY KEY("project_id","id")
);
--> statement-breakpoint
CREATE TABLE "stations" (
	"project_id" text NOT NULL,
	"id" text NOT NULL,
	"network_id" text NOT NULL,
	"position" double precision NOT NULL,
	"name" text NOT NULL,
	"ip" text NOT NULL,
	"device_number" integer NOT NULL,
	"file" text NOT NULL,
	"device" text NOT NULL,
	"comment" text NOT NULL,
	"addresses" jsonb NOT NULL,
	CONSTRAINT "stations_project_id_id_pk" PRIMARY KEY("project_id","id")
);
--> statement-breakpoint
ALTER TABLE "changes" ADD CONSTRAINT "changes_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "controllers" ADD CONSTRAINT "controllers_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "modules" ADD CONSTRAINT "modules_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "networks" ADD CONSTRAINT "networks_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rehearsals" ADD CONSTRAINT "rehearsals_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signals" ADD CONSTRAINT "signals_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stations" ADD CONSTRAINT "stations_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "changes_command" ON "changes" USING btree ("project_id","command_id");--> statement-breakpoint
CREATE INDEX "stations_file" ON "stations" USING btree ("file");