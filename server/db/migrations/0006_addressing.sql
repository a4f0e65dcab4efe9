ALTER TABLE "controllers" ADD COLUMN "first_input" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "controllers" ADD COLUMN "first_output" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "controllers" ADD COLUMN "reserve_bytes" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "controllers" ADD COLUMN "reserve_percent" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "controllers" ADD COLUMN "areas" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "controllers" ADD COLUMN "byte_order" text DEFAULT 'network' NOT NULL;--> statement-breakpoint
ALTER TABLE "modules" ADD COLUMN "orders" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "cable" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "pool" jsonb;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "name_pattern" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "role_pattern" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "tied" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "line" jsonb DEFAULT '{"baud":19200,"parity":"even","stopBits":1}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "networks" ADD COLUMN "request_ms" integer DEFAULT 500 NOT NULL;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "packs_bits" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "packs_bits" boolean;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "role_name" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "switches" jsonb;--> statement-breakpoint
ALTER TABLE "stations" ADD COLUMN "orders" jsonb DEFAULT '{}'::jsonb NOT NULL;