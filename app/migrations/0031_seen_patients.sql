ALTER TABLE "look" ADD COLUMN "cohort_id" uuid;--> statement-breakpoint
ALTER TABLE "look" ADD COLUMN "rows" "bytea";--> statement-breakpoint
ALTER TABLE "sealed_opening" ADD COLUMN "cohort_id" uuid;--> statement-breakpoint
ALTER TABLE "sealed_opening" ADD COLUMN "rows" "bytea";--> statement-breakpoint
ALTER TABLE "look" ADD CONSTRAINT "look_cohort_id_cohort_id_fk" FOREIGN KEY ("cohort_id") REFERENCES "public"."cohort"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sealed_opening" ADD CONSTRAINT "sealed_opening_cohort_id_cohort_id_fk" FOREIGN KEY ("cohort_id") REFERENCES "public"."cohort"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "look_cohort" ON "look" USING btree ("cohort_id");--> statement-breakpoint
CREATE INDEX "sealed_opening_cohort" ON "sealed_opening" USING btree ("cohort_id");