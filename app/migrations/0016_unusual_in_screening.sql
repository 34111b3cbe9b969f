ALTER TABLE "screening" ADD COLUMN "unusual" "bytea";--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "unusual_from" double precision;