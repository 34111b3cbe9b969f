CREATE TABLE "search" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"design_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"family" text NOT NULL,
	"basis" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"plan" jsonb NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"shares" jsonb,
	"round" integer DEFAULT 0 NOT NULL,
	"work_total" double precision DEFAULT 0 NOT NULL,
	"work_done" double precision DEFAULT 0 NOT NULL,
	"work_before" double precision DEFAULT 0 NOT NULL,
	"judged_by" text,
	"best" jsonb,
	"problem" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone,
	"heartbeat_at" timestamp with time zone,
	"run" integer DEFAULT 0 NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "search_piece" (
	"search_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"round" integer NOT NULL,
	"part" text NOT NULL,
	"trials" integer[] NOT NULL,
	"claimed_by" uuid,
	"claimed_at" timestamp with time zone,
	"done_at" timestamp with time zone,
	"development" jsonb,
	"problem" text,
	"header" jsonb,
	"values" "bytea",
	CONSTRAINT "search_piece_search_id_number_pk" PRIMARY KEY("search_id","number")
);
--> statement-breakpoint
CREATE TABLE "trial" (
	"search_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"settings" jsonb NOT NULL,
	"judged_round" integer DEFAULT -1 NOT NULL,
	"figures" jsonb,
	"development" jsonb,
	"problem" text,
	CONSTRAINT "trial_search_id_number_pk" PRIMARY KEY("search_id","number")
);
--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "search_id" uuid;--> statement-breakpoint
ALTER TABLE "candidate" ADD COLUMN "chosen" jsonb;--> statement-breakpoint
ALTER TABLE "search" ADD CONSTRAINT "search_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "search" ADD CONSTRAINT "search_design_id_design_id_fk" FOREIGN KEY ("design_id") REFERENCES "public"."design"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "search_piece" ADD CONSTRAINT "search_piece_search_id_search_id_fk" FOREIGN KEY ("search_id") REFERENCES "public"."search"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trial" ADD CONSTRAINT "trial_search_id_search_id_fk" FOREIGN KEY ("search_id") REFERENCES "public"."search"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "search_number" ON "search" USING btree ("study_id","number");--> statement-breakpoint
CREATE INDEX "search_design" ON "search" USING btree ("design_id");--> statement-breakpoint
CREATE INDEX "search_piece_round" ON "search_piece" USING btree ("search_id","round","done_at");--> statement-breakpoint
ALTER TABLE "candidate" ADD CONSTRAINT "candidate_search_id_search_id_fk" FOREIGN KEY ("search_id") REFERENCES "public"."search"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "candidate_search" ON "candidate" USING btree ("search_id");