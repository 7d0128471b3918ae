ALTER TABLE "camera" ADD COLUMN "pace" jsonb;--> statement-breakpoint
ALTER TABLE "event" ADD COLUMN "words" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "preset" ADD COLUMN "section" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "preset" ADD COLUMN "mark" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "preset" ADD COLUMN "pinned_order" double precision;--> statement-breakpoint
ALTER TABLE "preset" ADD COLUMN "pace" jsonb;--> statement-breakpoint
ALTER TABLE "preset" ADD COLUMN "parts" jsonb;