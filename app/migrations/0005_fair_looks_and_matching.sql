CREATE TABLE "held_out_view" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"study_id" uuid NOT NULL,
	"candidate_id" uuid,
	"candidate_name" text NOT NULL,
	"counted" boolean NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "results" jsonb;--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "warnings" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "cohort" ADD COLUMN "matching" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "look" ADD COLUMN "fitted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "matching" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "unfamiliar" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "unfamiliar_rows" "bytea";--> statement-breakpoint
ALTER TABLE "held_out_view" ADD CONSTRAINT "held_out_view_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "held_out_view" ADD CONSTRAINT "held_out_view_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "held_out_view_study" ON "held_out_view" USING btree ("study_id");--> statement-breakpoint
ALTER TABLE "upload_chunk" ALTER COLUMN "content" SET STORAGE EXTERNAL;--> statement-breakpoint
UPDATE "candidate" SET "warnings" = coalesce("model" #> '{family,fitted,warnings}', '[]'::jsonb) WHERE "model" IS NOT NULL;--> statement-breakpoint
UPDATE "look" SET "fitted_at" = "candidate"."fitted_at" FROM "candidate" WHERE "candidate"."id" = "look"."candidate_id" AND "look"."at" >= "candidate"."fitted_at";--> statement-breakpoint
INSERT INTO "held_out_view" ("study_id", "candidate_id", "candidate_name", "counted", "at") SELECT "study_id", "candidate_id", "candidate_name", true, "at" FROM "look" ORDER BY "id";
