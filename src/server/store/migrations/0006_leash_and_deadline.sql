ALTER TABLE "camera" ADD COLUMN "leash" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "venue" ADD COLUMN "demo" boolean DEFAULT false NOT NULL;--> statement-breakpoint
UPDATE "venue" SET "demo" = true WHERE "name" = 'Osier Barn';--> statement-breakpoint
-- A change that was given up never comes true: at its commit it is looked at whether its time is over.
CREATE FUNCTION "heron_in_time"() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  until text := current_setting('heron.until', true);
BEGIN
  IF until IS NOT NULL AND until <> '' AND extract(epoch from clock_timestamp()) > until::double precision THEN
    RAISE EXCEPTION 'this change was given up' USING ERRCODE = 'HE001';
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "venue_in_time" AFTER INSERT OR UPDATE OR DELETE ON "venue" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "event_in_time" AFTER INSERT OR UPDATE OR DELETE ON "event" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "camera_in_time" AFTER INSERT OR UPDATE OR DELETE ON "camera" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "command_set_in_time" AFTER INSERT OR UPDATE OR DELETE ON "command_set" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "picture_in_time" AFTER INSERT OR UPDATE OR DELETE ON "picture" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "preset_in_time" AFTER INSERT OR UPDATE OR DELETE ON "preset" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "preset_version_in_time" AFTER INSERT OR UPDATE OR DELETE ON "preset_version" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();--> statement-breakpoint
CREATE CONSTRAINT TRIGGER "person_in_time" AFTER INSERT OR UPDATE OR DELETE ON "person" DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION "heron_in_time"();
