CREATE TABLE "former_settings" (
	"id" uuid PRIMARY KEY NOT NULL,
	"venue_id" uuid NOT NULL,
	"what" text NOT NULL,
	"cameras" jsonb NOT NULL,
	"state" text NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "former_settings" ADD CONSTRAINT "former_settings_venue_id_venue_id_fk" FOREIGN KEY ("venue_id") REFERENCES "public"."venue"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "former_settings_venue" ON "former_settings" USING btree ("venue_id","at");