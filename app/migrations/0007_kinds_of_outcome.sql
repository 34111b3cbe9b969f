CREATE TABLE "fit" (
	"candidate_id" uuid PRIMARY KEY NOT NULL,
	"model" jsonb NOT NULL,
	"folds" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "fit_facet" (
	"candidate_id" uuid NOT NULL,
	"facet" jsonb NOT NULL,
	"position" integer NOT NULL,
	CONSTRAINT "fit_facet_candidate_id_position_pk" PRIMARY KEY("candidate_id","position")
);
--> statement-breakpoint
CREATE TABLE "prediction" (
	"candidate_id" uuid NOT NULL,
	"whose" text NOT NULL,
	"header" jsonb NOT NULL,
	"values" "bytea" NOT NULL,
	"outcome" "bytea" NOT NULL,
	CONSTRAINT "prediction_candidate_id_whose_pk" PRIMARY KEY("candidate_id","whose")
);
--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "outcome" jsonb;--> statement-breakpoint
DELETE FROM "fit_part";--> statement-breakpoint
ALTER TABLE "fit_part" ADD COLUMN "header" jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "fit_part" ADD COLUMN "values" "bytea" NOT NULL;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "header" jsonb DEFAULT '{"kind":"event"}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "screening" RENAME COLUMN "risks" TO "values";--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "cases" jsonb DEFAULT '{"kind":"event"}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "intervals" "bytea";--> statement-breakpoint
ALTER TABLE "screening" RENAME COLUMN "events" TO "outcome";--> statement-breakpoint
ALTER TABLE "fit" ADD CONSTRAINT "fit_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_facet" ADD CONSTRAINT "fit_facet_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "prediction" ADD CONSTRAINT "prediction_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
INSERT INTO "fit" ("candidate_id", "model", "folds") SELECT "id", "model", "folds" FROM "candidate" WHERE "model" IS NOT NULL AND "folds" IS NOT NULL;--> statement-breakpoint
INSERT INTO "prediction" ("candidate_id", "whose", "header", "values", "outcome") SELECT "id", 'out of fold', '{"kind":"event"}', "out_of_fold_risks", "development_events" FROM "candidate" WHERE "out_of_fold_risks" IS NOT NULL AND "development_events" IS NOT NULL;--> statement-breakpoint
INSERT INTO "prediction" ("candidate_id", "whose", "header", "values", "outcome") SELECT "id", 'held out', '{"kind":"event"}', "held_out_risks", "held_out_events" FROM "candidate" WHERE "held_out_risks" IS NOT NULL AND "held_out_events" IS NOT NULL;--> statement-breakpoint
UPDATE "candidate" SET "outcome" = jsonb_build_object('choice', jsonb_build_object('kind', 'event', 'column', "model" -> 'outcome' -> 'name', 'event', "model" -> 'outcome' -> 'event'), 'label', "model" -> 'outcome' -> 'label', 'unit', '', 'cases', jsonb_build_object('kind', 'event')) WHERE "model" IS NOT NULL;--> statement-breakpoint
ALTER TABLE "candidate" DROP COLUMN "model";--> statement-breakpoint
ALTER TABLE "candidate" DROP COLUMN "out_of_fold_risks";--> statement-breakpoint
ALTER TABLE "candidate" DROP COLUMN "folds";--> statement-breakpoint
ALTER TABLE "candidate" DROP COLUMN "development_events";--> statement-breakpoint
ALTER TABLE "candidate" DROP COLUMN "held_out_risks";--> statement-breakpoint
ALTER TABLE "candidate" DROP COLUMN "held_out_events";--> statement-breakpoint
ALTER TABLE "fit_part" DROP COLUMN "risks";