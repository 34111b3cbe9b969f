CREATE TABLE "candidate" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"design_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"family" text NOT NULL,
	"settings" jsonb NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"parts_done" integer DEFAULT 0 NOT NULL,
	"parts_total" integer DEFAULT 0 NOT NULL,
	"problem" text,
	"started_at" timestamp with time zone,
	"heartbeat_at" timestamp with time zone,
	"fit_run" integer DEFAULT 0 NOT NULL,
	"cutoff_rule" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"fitted_at" timestamp with time zone,
	"model" jsonb,
	"out_of_fold_risks" "bytea",
	"folds" "bytea",
	"development_events" "bytea",
	"held_out_risks" "bytea",
	"held_out_events" "bytea",
	"apparent_area" double precision,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "cohort" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"purpose" text NOT NULL,
	"name" text NOT NULL,
	"upload_id" uuid NOT NULL,
	"row_count" integer NOT NULL,
	"dictionary" jsonb NOT NULL,
	"summaries" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "column_chunk" (
	"cohort_id" uuid NOT NULL,
	"version" integer NOT NULL,
	"column_position" integer NOT NULL,
	"chunk_position" integer NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "column_chunk_cohort_id_version_column_position_chunk_position_pk" PRIMARY KEY("cohort_id","version","column_position","chunk_position")
);
--> statement-breakpoint
CREATE TABLE "design" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"cohort_id" uuid NOT NULL,
	"choices" jsonb NOT NULL,
	"fit_key" text NOT NULL,
	"division_id" uuid,
	"obstacle" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "dismissal" (
	"study_id" uuid NOT NULL,
	"note" text NOT NULL,
	"title" text NOT NULL,
	"reason" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "dismissal_study_id_note_pk" PRIMARY KEY("study_id","note")
);
--> statement-breakpoint
CREATE TABLE "division" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"sides" "bytea" NOT NULL,
	"folds" "bytea" NOT NULL,
	"counts" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "fit_part" (
	"candidate_id" uuid NOT NULL,
	"name" text NOT NULL,
	"result" jsonb NOT NULL,
	"risks" "bytea" NOT NULL,
	CONSTRAINT "fit_part_candidate_id_name_pk" PRIMARY KEY("candidate_id","name")
);
--> statement-breakpoint
CREATE TABLE "look" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"study_id" uuid NOT NULL,
	"candidate_id" uuid,
	"candidate_name" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "revision" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"study_id" uuid NOT NULL,
	"cohort_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"what" text NOT NULL,
	"dictionary" jsonb NOT NULL,
	"choices" jsonb NOT NULL,
	"left_behind" boolean DEFAULT false NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "screening" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"cohort_id" uuid NOT NULL,
	"candidate_id" uuid NOT NULL,
	"risks" "bytea" NOT NULL,
	"ranking" "bytea" NOT NULL,
	"events" "bytea",
	"predictors" jsonb NOT NULL,
	"extra_columns" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "study" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"opened_at" timestamp with time zone DEFAULT now() NOT NULL,
	"design_id" uuid,
	"revision" integer DEFAULT 0 NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "survey" (
	"study_id" uuid PRIMARY KEY NOT NULL,
	"key" text NOT NULL,
	"findings" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "upload" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"file_name" text NOT NULL,
	"size" integer NOT NULL,
	"sha256" text NOT NULL,
	"reading" jsonb NOT NULL,
	"row_count" integer NOT NULL,
	"tallies" jsonb NOT NULL,
	"first_rows" jsonb NOT NULL,
	"remarks" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "upload_chunk" (
	"upload_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "upload_chunk_upload_id_position_pk" PRIMARY KEY("upload_id","position")
);
--> statement-breakpoint
CREATE TABLE "worker" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"host" text NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "candidate" ADD CONSTRAINT "candidate_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "candidate" ADD CONSTRAINT "candidate_design_id_design_id_fk" FOREIGN KEY ("design_id") REFERENCES "public"."design"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cohort" ADD CONSTRAINT "cohort_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cohort" ADD CONSTRAINT "cohort_upload_id_upload_id_fk" FOREIGN KEY ("upload_id") REFERENCES "public"."upload"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "column_chunk" ADD CONSTRAINT "column_chunk_cohort_id_cohort_id_fk" FOREIGN KEY ("cohort_id") REFERENCES "public"."cohort"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "design" ADD CONSTRAINT "design_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "design" ADD CONSTRAINT "design_cohort_id_cohort_id_fk" FOREIGN KEY ("cohort_id") REFERENCES "public"."cohort"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "design" ADD CONSTRAINT "design_division_id_division_id_fk" FOREIGN KEY ("division_id") REFERENCES "public"."division"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dismissal" ADD CONSTRAINT "dismissal_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "division" ADD CONSTRAINT "division_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "fit_part" ADD CONSTRAINT "fit_part_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "look" ADD CONSTRAINT "look_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "look" ADD CONSTRAINT "look_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revision" ADD CONSTRAINT "revision_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revision" ADD CONSTRAINT "revision_cohort_id_cohort_id_fk" FOREIGN KEY ("cohort_id") REFERENCES "public"."cohort"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "screening" ADD CONSTRAINT "screening_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "screening" ADD CONSTRAINT "screening_cohort_id_cohort_id_fk" FOREIGN KEY ("cohort_id") REFERENCES "public"."cohort"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "screening" ADD CONSTRAINT "screening_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "survey" ADD CONSTRAINT "survey_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "upload_chunk" ADD CONSTRAINT "upload_chunk_upload_id_upload_id_fk" FOREIGN KEY ("upload_id") REFERENCES "public"."upload"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "candidate_number" ON "candidate" USING btree ("study_id","number");--> statement-breakpoint
CREATE UNIQUE INDEX "one_development_cohort" ON "cohort" USING btree ("study_id") WHERE purpose = 'development' and deleted_at is null;--> statement-breakpoint
CREATE INDEX "look_study" ON "look" USING btree ("study_id");--> statement-breakpoint
CREATE UNIQUE INDEX "revision_number" ON "revision" USING btree ("study_id","number") WHERE not left_behind;--> statement-breakpoint
CREATE UNIQUE INDEX "screening_pair" ON "screening" USING btree ("cohort_id","candidate_id");--> statement-breakpoint
-- Column values are read by slices: stored uncompressed, a slice is cut without unpacking the whole.
ALTER TABLE "column_chunk" ALTER COLUMN "content" SET STORAGE EXTERNAL;
