ALTER TABLE "candidate" ADD COLUMN "title" text;--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "note" text DEFAULT '' NOT NULL;