ALTER TABLE "cohort" ADD COLUMN "stored_rows" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "cohort" ADD COLUMN "selection" jsonb DEFAULT '{"duplicates":null,"exclusions":[]}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "cohort" ADD COLUMN "flow" jsonb DEFAULT '{"came":0,"steps":[]}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "cohort" ADD COLUMN "kept" "bytea";--> statement-breakpoint
ALTER TABLE "revision" ADD COLUMN "selection" jsonb DEFAULT '{"duplicates":null,"exclusions":[]}'::jsonb NOT NULL;--> statement-breakpoint
UPDATE "cohort" SET "stored_rows" = "row_count", "flow" = jsonb_build_object('came', "row_count", 'steps', '[]'::jsonb);--> statement-breakpoint
UPDATE "candidate" SET "model" = jsonb_set("model", '{sources}', '[]'::jsonb) WHERE "model" IS NOT NULL;
