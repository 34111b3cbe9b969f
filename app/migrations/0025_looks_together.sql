ALTER TABLE "look" ADD COLUMN "besides" bigint;--> statement-breakpoint
ALTER TABLE "sealed_opening" ADD COLUMN "reason" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "look" ADD CONSTRAINT "look_besides_look_id_fk" FOREIGN KEY ("besides") REFERENCES "public"."look"("id") ON DELETE cascade ON UPDATE no action;