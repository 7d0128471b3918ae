ALTER TABLE "camera" ADD COLUMN "learnt" jsonb;--> statement-breakpoint
ALTER TABLE "event" ADD COLUMN "guard" jsonb;