CREATE TABLE "allocation" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"study_id" uuid NOT NULL,
	"name" text NOT NULL,
	"patients" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sealed_opening" (
	"study_id" uuid PRIMARY KEY NOT NULL,
	"candidate_id" uuid,
	"candidate_name" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"predicted" jsonb NOT NULL,
	"cutoff" double precision NOT NULL,
	"header" jsonb NOT NULL,
	"values" "bytea" NOT NULL,
	"outcome" "bytea" NOT NULL
);
--> statement-breakpoint
ALTER TABLE "allocation" ADD CONSTRAINT "allocation_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sealed_opening" ADD CONSTRAINT "sealed_opening_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sealed_opening" ADD CONSTRAINT "sealed_opening_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "allocation_study" ON "allocation" USING btree ("study_id");--> statement-breakpoint
CREATE INDEX "sealed_opening_candidate" ON "sealed_opening" USING btree ("candidate_id");