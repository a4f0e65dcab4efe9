-- A change belongs to an account, whatever its person is called by now. Names told who it was until
-- here, and no two accounts had the same.
ALTER TABLE "changes" ADD COLUMN "user_id" text;
--> statement-breakpoint
UPDATE "changes" SET "user_id" = "users"."id" FROM "users" WHERE "users"."full_name" = "changes"."author";
--> statement-breakpoint
CREATE INDEX "changes_user" ON "changes" ("project_id", "user_id", "revision");
