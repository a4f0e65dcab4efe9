CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
CREATE TABLE "shelf_items" (
	"sha256" text NOT NULL,
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"order_number" text,
	"info" text NOT NULL,
	"words" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "description_files" ADD COLUMN "reader" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "shelf_items" ADD CONSTRAINT "shelf_items_sha256_description_files_sha256_fk" FOREIGN KEY ("sha256") REFERENCES "public"."description_files"("sha256") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "shelf_items_file" ON "shelf_items" USING btree ("sha256");--> statement-breakpoint
CREATE INDEX "shelf_items_words" ON "shelf_items" USING gin ("words" gin_trgm_ops);