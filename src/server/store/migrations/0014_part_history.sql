CREATE TABLE "show_part_before" (
	"part_id" uuid NOT NULL,
	"version" integer NOT NULL,
	"event_id" uuid NOT NULL,
	"data" jsonb NOT NULL,
	"replaced_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "show_part_before_part_id_version_pk" PRIMARY KEY("part_id","version")
);
--> statement-breakpoint
ALTER TABLE "show_part_before" ADD CONSTRAINT "show_part_before_event_id_event_id_fk" FOREIGN KEY ("event_id") REFERENCES "public"."event"("id") ON DELETE cascade ON UPDATE no action;