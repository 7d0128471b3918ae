CREATE TABLE "command_set" (
	"venue_id" uuid NOT NULL,
	"id" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "command_set_venue_id_id_pk" PRIMARY KEY("venue_id","id")
);
--> statement-breakpoint
DROP INDEX "camera_number";--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "order" double precision;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "enabled" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "connection" jsonb;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "picture" jsonb;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "mount" jsonb;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "page_url" text;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "secrets" text;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "venue" ADD COLUMN "open" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "command_set" ADD CONSTRAINT "command_set_venue_id_venue_id_fk" FOREIGN KEY ("venue_id") REFERENCES "public"."venue"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE "camera" SET
	"order" = "number",
	"connection" = jsonb_build_object('kind', "link", 'host', "host", 'port', "port"),
	"picture" = CASE WHEN "stream_url" IS NULL THEN '{"kind":"none"}'::jsonb ELSE jsonb_build_object('kind', 'mjpeg', 'url', "stream_url", 'user', '') END,
	"mount" = '{"upsideDown":false,"mirrored":false}'::jsonb;--> statement-breakpoint
ALTER TABLE "camera" ALTER COLUMN "order" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "camera" ALTER COLUMN "connection" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "camera" ALTER COLUMN "picture" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "camera" ALTER COLUMN "mount" SET NOT NULL;--> statement-breakpoint
UPDATE "venue" SET "open" = true WHERE "id" = (SELECT "venue_id" FROM "event" WHERE "open" ORDER BY "created_at" LIMIT 1);--> statement-breakpoint
CREATE UNIQUE INDEX "venue_one_open" ON "venue" USING btree ("open") WHERE "venue"."open";--> statement-breakpoint
CREATE UNIQUE INDEX "camera_number" ON "camera" USING btree ("venue_id","number") WHERE "camera"."deleted_at" is null;