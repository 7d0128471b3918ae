CREATE TABLE "room" (
	"event_id" uuid PRIMARY KEY NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"kept" jsonb NOT NULL,
	"solved" jsonb,
	"picture" "bytea",
	"picture_size" jsonb
);
--> statement-breakpoint
ALTER TABLE "room" ADD CONSTRAINT "room_event_id_event_id_fk" FOREIGN KEY ("event_id") REFERENCES "public"."event"("id") ON DELETE cascade ON UPDATE no action;