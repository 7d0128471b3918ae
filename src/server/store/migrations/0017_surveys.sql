CREATE TABLE "survey" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"event_id" uuid NOT NULL,
	"camera_id" uuid NOT NULL,
	"taken_at" timestamp with time zone NOT NULL,
	"about" jsonb NOT NULL,
	CONSTRAINT "survey_of" UNIQUE("event_id","camera_id")
);
--> statement-breakpoint
CREATE TABLE "survey_shot" (
	"survey_id" uuid NOT NULL,
	"place" integer NOT NULL,
	"view" jsonb NOT NULL,
	"gain" double precision NOT NULL,
	"jpeg" "bytea" NOT NULL,
	CONSTRAINT "survey_shot_survey_id_place_pk" PRIMARY KEY("survey_id","place")
);
--> statement-breakpoint
CREATE TABLE "survey_tile" (
	"survey_id" uuid NOT NULL,
	"level" integer NOT NULL,
	"column" integer NOT NULL,
	"row" integer NOT NULL,
	"jpeg" "bytea" NOT NULL,
	CONSTRAINT "survey_tile_survey_id_level_column_row_pk" PRIMARY KEY("survey_id","level","column","row")
);
--> statement-breakpoint
ALTER TABLE "preset_version" ADD COLUMN "surveyed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "survey" ADD CONSTRAINT "survey_event_id_event_id_fk" FOREIGN KEY ("event_id") REFERENCES "public"."event"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "survey" ADD CONSTRAINT "survey_camera_id_camera_id_fk" FOREIGN KEY ("camera_id") REFERENCES "public"."camera"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "survey_shot" ADD CONSTRAINT "survey_shot_survey_id_survey_id_fk" FOREIGN KEY ("survey_id") REFERENCES "public"."survey"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "survey_tile" ADD CONSTRAINT "survey_tile_survey_id_survey_id_fk" FOREIGN KEY ("survey_id") REFERENCES "public"."survey"("id") ON DELETE cascade ON UPDATE no action;