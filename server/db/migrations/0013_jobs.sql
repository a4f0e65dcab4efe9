-- Work that takes longer than somebody waits for an answer; which instance does it next is the
-- queue's to say, which keeps a schema of its own.
CREATE TABLE "jobs" (
  "id" text PRIMARY KEY NOT NULL,
  "user_id" text NOT NULL REFERENCES "users"("id") ON DELETE CASCADE,
  "project_id" text REFERENCES "projects"("id") ON DELETE CASCADE,
  "kind" text NOT NULL,
  "wish" jsonb NOT NULL,
  "words" text NOT NULL,
  "state" text DEFAULT 'waiting' NOT NULL,
  "done" integer DEFAULT 0 NOT NULL,
  "total" integer DEFAULT 0 NOT NULL,
  "sentence" text DEFAULT '' NOT NULL,
  "file_name" text,
  "media_type" text,
  "bytes" bigint,
  "arrivals" jsonb DEFAULT '[]'::jsonb NOT NULL,
  "instance" text,
  "beat_at" timestamp with time zone DEFAULT now() NOT NULL,
  "created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "jobs_user" ON "jobs" ("user_id");
--> statement-breakpoint
-- Apart, so that a list of jobs does not read their files.
CREATE TABLE "job_files" (
  "job_id" text PRIMARY KEY NOT NULL REFERENCES "jobs"("id") ON DELETE CASCADE,
  "content" bytea NOT NULL
);
