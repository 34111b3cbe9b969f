ALTER TABLE "cohort" ADD COLUMN "second" jsonb;--> statement-breakpoint
ALTER TABLE "revision" ADD COLUMN "upload_id" uuid;--> statement-breakpoint
UPDATE "revision" SET "upload_id" = "cohort"."upload_id" FROM "cohort" WHERE "cohort"."id" = "revision"."cohort_id";--> statement-breakpoint
ALTER TABLE "revision" ALTER COLUMN "upload_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "revision" ADD COLUMN "second" jsonb;--> statement-breakpoint
ALTER TABLE "revision" ADD CONSTRAINT "revision_upload_id_upload_id_fk" FOREIGN KEY ("upload_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "revision_upload" ON "revision" USING btree ("upload_id");