ALTER TABLE "preset_version" ALTER COLUMN "pan_deg" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "preset_version" ALTER COLUMN "tilt_deg" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "preset_version" ALTER COLUMN "zoom" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "preset_version" ALTER COLUMN "focus_auto" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "hold_picture" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "camera" ADD COLUMN "also_in_memory" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "preset" ADD COLUMN "memory" integer;--> statement-breakpoint
ALTER TABLE "preset_version" ADD COLUMN "light" jsonb;