ALTER TABLE "projects" ADD COLUMN "own_formats" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "module_formats" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "signals" ADD COLUMN "facts" jsonb DEFAULT '{}'::jsonb NOT NULL;