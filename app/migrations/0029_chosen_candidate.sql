ALTER TABLE "study" ADD COLUMN "chosen_id" uuid;--> statement-breakpoint
ALTER TABLE "study" ADD CONSTRAINT "study_chosen_id_candidate_id_fk" FOREIGN KEY ("chosen_id") REFERENCES "public"."candidate"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "study_chosen" ON "study" USING btree ("chosen_id");