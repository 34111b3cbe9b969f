CREATE TABLE "candidate_version" (
	"candidate_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"key" text NOT NULL,
	"version" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "candidate_version_candidate_id_number_pk" PRIMARY KEY("candidate_id","number")
);
--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "scored_with" jsonb;--> statement-breakpoint
ALTER TABLE "screening" ADD COLUMN "calls" jsonb DEFAULT '{"by":"candidate"}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "candidate_version" ADD CONSTRAINT "candidate_version_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "candidate_version_key" ON "candidate_version" USING btree ("candidate_id","key");