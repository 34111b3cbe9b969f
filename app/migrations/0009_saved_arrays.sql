ALTER TABLE "fit" ADD COLUMN "arrays" "bytea" DEFAULT ''::bytea NOT NULL;--> statement-breakpoint
ALTER TABLE "fit_part" ADD COLUMN "arrays" "bytea" DEFAULT ''::bytea NOT NULL;