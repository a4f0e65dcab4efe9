ALTER TABLE "projects" ADD COLUMN "tag_case" text DEFAULT 'any' NOT NULL;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "reserved_words" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "spare_percent" integer DEFAULT 0 NOT NULL;