CREATE TABLE "camera" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"venue_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"link" text NOT NULL,
	"host" text NOT NULL,
	"port" integer NOT NULL,
	"head_profile" text NOT NULL,
	"stream_url" text,
	"snapshot_url" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "event" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"venue_id" uuid NOT NULL,
	"name" text NOT NULL,
	"open" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "picture" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"jpeg" "bytea" NOT NULL,
	"taken_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "preset" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"event_id" uuid NOT NULL,
	"camera_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"order" double precision NOT NULL,
	"name" text NOT NULL,
	"current_version" integer NOT NULL,
	"deleted_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "preset_version" (
	"preset_id" uuid NOT NULL,
	"version" integer NOT NULL,
	"pan_deg" double precision NOT NULL,
	"tilt_deg" double precision NOT NULL,
	"zoom" double precision NOT NULL,
	"focus_auto" boolean NOT NULL,
	"focus" double precision,
	"picture_id" uuid,
	"stored_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "preset_version_preset_id_version_pk" PRIMARY KEY("preset_id","version")
);
--> statement-breakpoint
CREATE TABLE "venue" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "camera" ADD CONSTRAINT "camera_venue_id_venue_id_fk" FOREIGN KEY ("venue_id") REFERENCES "public"."venue"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "event" ADD CONSTRAINT "event_venue_id_venue_id_fk" FOREIGN KEY ("venue_id") REFERENCES "public"."venue"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "preset" ADD CONSTRAINT "preset_event_id_event_id_fk" FOREIGN KEY ("event_id") REFERENCES "public"."event"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "preset" ADD CONSTRAINT "preset_camera_id_camera_id_fk" FOREIGN KEY ("camera_id") REFERENCES "public"."camera"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "preset_version" ADD CONSTRAINT "preset_version_preset_id_preset_id_fk" FOREIGN KEY ("preset_id") REFERENCES "public"."preset"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "preset_version" ADD CONSTRAINT "preset_version_picture_id_picture_id_fk" FOREIGN KEY ("picture_id") REFERENCES "public"."picture"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "camera_number" ON "camera" USING btree ("venue_id","number");--> statement-breakpoint
CREATE UNIQUE INDEX "event_one_open" ON "event" USING btree ("venue_id") WHERE "event"."open";--> statement-breakpoint
CREATE UNIQUE INDEX "preset_number" ON "preset" USING btree ("event_id","camera_id","number") WHERE "preset"."deleted_at" is null;