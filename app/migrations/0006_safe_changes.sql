ALTER TABLE "column_chunk" ADD COLUMN "first_row" integer;--> statement-breakpoint
UPDATE "column_chunk" SET "first_row" = "chunk_position" * 32768;--> statement-breakpoint
ALTER TABLE "column_chunk" ALTER COLUMN "first_row" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "division" ADD COLUMN "patients" text;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "patients" text;--> statement-breakpoint
ALTER TABLE "study" ADD COLUMN "candidates_made" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE "study" SET "candidates_made" = coalesce((SELECT max("number") + 1 FROM "candidate" WHERE "candidate"."study_id" = "study"."id"), 0);--> statement-breakpoint
CREATE INDEX "candidate_design" ON "candidate" USING btree ("design_id");--> statement-breakpoint
CREATE INDEX "cohort_study" ON "cohort" USING btree ("study_id");--> statement-breakpoint
CREATE INDEX "cohort_upload" ON "cohort" USING btree ("upload_id");--> statement-breakpoint
CREATE INDEX "design_study" ON "design" USING btree ("study_id");--> statement-breakpoint
CREATE INDEX "design_cohort" ON "design" USING btree ("cohort_id");--> statement-breakpoint
CREATE INDEX "design_division" ON "design" USING btree ("division_id");--> statement-breakpoint
CREATE INDEX "division_study" ON "division" USING btree ("study_id");--> statement-breakpoint
CREATE INDEX "held_out_view_candidate" ON "held_out_view" USING btree ("candidate_id");--> statement-breakpoint
CREATE INDEX "look_candidate" ON "look" USING btree ("candidate_id");--> statement-breakpoint
CREATE INDEX "revision_study" ON "revision" USING btree ("study_id");--> statement-breakpoint
CREATE INDEX "revision_cohort" ON "revision" USING btree ("cohort_id");--> statement-breakpoint
CREATE INDEX "screening_study" ON "screening" USING btree ("study_id");--> statement-breakpoint
CREATE INDEX "screening_candidate" ON "screening" USING btree ("candidate_id");--> statement-breakpoint
CREATE FUNCTION "patients_divided"() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	"of_study" uuid;
BEGIN
	IF TG_TABLE_NAME = 'study' THEN "of_study" := NEW."id"; ELSE "of_study" := NEW."study_id"; END IF;
	IF EXISTS (
		SELECT FROM "study"
		JOIN "design" ON "design"."id" = "study"."design_id"
		JOIN "division" ON "division"."id" = "design"."division_id"
		JOIN "cohort" ON "cohort"."id" = "design"."cohort_id"
		WHERE "study"."id" = "of_study"
			AND octet_length("division"."sides") <> "cohort"."row_count"
	) THEN
		RAISE EXCEPTION 'the division of a study is of other patients than its cohort has' USING ERRCODE = 'check_violation';
	END IF;
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "study_patients_divided" AFTER UPDATE OF "design_id" ON "study" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "patients_divided"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "cohort_patients_divided" AFTER UPDATE OF "row_count" ON "cohort" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "patients_divided"();
