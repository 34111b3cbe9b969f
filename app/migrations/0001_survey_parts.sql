CREATE TABLE "survey_part" (
	"study_id" uuid NOT NULL,
	"part" text NOT NULL,
	"key" text NOT NULL,
	"result" jsonb,
	"problem" text,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "survey_part_study_id_part_pk" PRIMARY KEY("study_id","part")
);
--> statement-breakpoint
ALTER TABLE "survey_part" ADD CONSTRAINT "survey_part_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;