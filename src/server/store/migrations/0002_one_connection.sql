ALTER TABLE "camera" DROP COLUMN "link";--> statement-breakpoint
ALTER TABLE "camera" DROP COLUMN "host";--> statement-breakpoint
ALTER TABLE "camera" DROP COLUMN "port";--> statement-breakpoint
ALTER TABLE "camera" DROP COLUMN "stream_url";--> statement-breakpoint
ALTER TABLE "camera" DROP COLUMN "snapshot_url";