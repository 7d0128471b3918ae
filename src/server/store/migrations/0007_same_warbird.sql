CREATE TABLE "head_profile" (
	"venue_id" uuid NOT NULL,
	"id" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "head_profile_venue_id_id_pk" PRIMARY KEY("venue_id","id")
);
--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "head_confirmed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "preset_version" ADD COLUMN "encoder" jsonb;--> statement-breakpoint
ALTER TABLE "head_profile" ADD CONSTRAINT "head_profile_venue_id_venue_id_fk" FOREIGN KEY ("venue_id") REFERENCES "public"."venue"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE "camera" SET "head_confirmed" = true;
