CREATE TABLE "list_file" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"screening_id" uuid NOT NULL,
	"scored_at" timestamp with time zone NOT NULL,
	"cutoff" double precision NOT NULL,
	"reasons" boolean NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"patients" integer NOT NULL,
	"patients_done" integer DEFAULT 0 NOT NULL,
	"problem" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone,
	"heartbeat_at" timestamp with time zone,
	"run" integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "list_file_part" (
	"file_id" uuid NOT NULL,
	"position" integer NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "list_file_part_file_id_position_pk" PRIMARY KEY("file_id","position")
);
--> statement-breakpoint
ALTER TABLE "list_file" ADD CONSTRAINT "list_file_screening_id_screening_id_fk" FOREIGN KEY ("screening_id") REFERENCES "public"."screening"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_file_part" ADD CONSTRAINT "list_file_part_file_id_list_file_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."list_file"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "list_file_screening" ON "list_file" USING btree ("screening_id");