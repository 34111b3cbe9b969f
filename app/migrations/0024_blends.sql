ALTER TABLE "candidate" ADD COLUMN "parts" jsonb;--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "size" jsonb;--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "score_time" double precision;