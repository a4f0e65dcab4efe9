CREATE TABLE "rehearsal_events" (
	"project_id" text NOT NULL,
	"number" integer NOT NULL,
	"action" jsonb NOT NULL,
	"author" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "rehearsal_events_project_id_number_pk" PRIMARY KEY("project_id","number")
);
--> statement-breakpoint
CREATE TABLE "rehearsals" (
	"project_id" text PRIMARY KEY NOT NULL,
	"id" text NOT NULL,
	"plan" "bytea" NOT NULL,
	"difficulty" text NOT NULL,
	"seed" bigint NOT NULL,
	"differences" jsonb NOT NULL,
	"begun_by" text NOT NULL,
	"begun_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "rehearsal_events" ADD CONSTRAINT "rehearsal_events_project_id_rehearsals_project_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."rehearsals"("project_id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rehearsals" ADD CONSTRAINT "rehearsals_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;