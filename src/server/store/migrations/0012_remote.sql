CREATE TABLE "remote_key" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"rights" jsonb NOT NULL,
	"ends_at" timestamp with time zone,
	"last_used_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "remote_key_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
ALTER TABLE "venue" ADD COLUMN "osc" jsonb;