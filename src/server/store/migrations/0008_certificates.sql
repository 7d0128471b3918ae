CREATE TABLE "certificate" (
	"origin" text PRIMARY KEY NOT NULL,
	"fingerprint" text NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
