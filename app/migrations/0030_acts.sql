CREATE TABLE "act" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"study_id" uuid NOT NULL,
	"person" uuid,
	"what" text NOT NULL,
	"undo" jsonb,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"undone_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "act" ADD CONSTRAINT "act_study_id_study_id_fk" FOREIGN KEY ("study_id") REFERENCES "public"."study"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "act_study" ON "act" USING btree ("study_id","person","id");