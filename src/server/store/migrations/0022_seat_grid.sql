CREATE TABLE "seat_grid" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"event_id" uuid NOT NULL,
	"camera_id" uuid NOT NULL,
	"section" text NOT NULL,
	"grid" jsonb NOT NULL,
	"seats" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "seat_grid" ADD CONSTRAINT "seat_grid_event_id_event_id_fk" FOREIGN KEY ("event_id") REFERENCES "public"."event"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "seat_grid" ADD CONSTRAINT "seat_grid_camera_id_camera_id_fk" FOREIGN KEY ("camera_id") REFERENCES "public"."camera"("id") ON DELETE cascade ON UPDATE no action;