ALTER TABLE "venue" ADD COLUMN "tally" jsonb;--> statement-breakpoint
ALTER TABLE "venue" ADD COLUMN "tally_spoken" jsonb;