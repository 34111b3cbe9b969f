CREATE TABLE "worth" (
	"candidate_id" uuid PRIMARY KEY NOT NULL,
	"fitted_at" timestamp with time zone NOT NULL,
	"together" jsonb NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"total" integer DEFAULT 0 NOT NULL,
	"result" jsonb,
	"problem" text,
	"alive_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "worth" ADD CONSTRAINT "worth_candidate_id_candidate_id_fk" FOREIGN KEY ("candidate_id") REFERENCES "public"."candidate"("id") ON DELETE cascade ON UPDATE no action;