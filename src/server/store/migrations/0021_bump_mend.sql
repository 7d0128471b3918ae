CREATE TABLE "bump_mend" (
	"event_id" uuid NOT NULL,
	"camera_id" uuid NOT NULL,
	"before" jsonb NOT NULL,
	CONSTRAINT "bump_mend_event_id_camera_id_pk" PRIMARY KEY("event_id","camera_id")
);
--> statement-breakpoint
ALTER TABLE "bump_mend" ADD CONSTRAINT "bump_mend_event_id_event_id_fk" FOREIGN KEY ("event_id") REFERENCES "public"."event"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bump_mend" ADD CONSTRAINT "bump_mend_camera_id_camera_id_fk" FOREIGN KEY ("camera_id") REFERENCES "public"."camera"("id") ON DELETE cascade ON UPDATE no action;