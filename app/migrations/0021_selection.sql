ALTER TABLE "search_piece" ADD COLUMN "problems" jsonb;--> statement-breakpoint
ALTER TABLE "search_piece" ADD COLUMN "ranked" jsonb;