CREATE TABLE "releases" (
	"project_id" text NOT NULL,
	"name" text NOT NULL,
	"revision" integer NOT NULL,
	"user_id" text NOT NULL,
	"author" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"blockers" integer NOT NULL,
	"safety_signature" text,
	"files" jsonb NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "releases_project_id_name_pk" PRIMARY KEY("project_id","name")
);
--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "came_with_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "releases" ADD CONSTRAINT "releases_project_id_projects_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."projects"("id") ON DELETE cascade ON UPDATE no action;