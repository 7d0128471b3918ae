CREATE TABLE "invitation" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"grant" jsonb NOT NULL,
	"hash" text NOT NULL,
	"sealed" text NOT NULL,
	"ends_at" timestamp with time zone,
	"uses" integer,
	"used" integer DEFAULT 0 NOT NULL,
	"ended_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "invitation_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "journal" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"event_name" text NOT NULL,
	"person" text NOT NULL,
	"kind" text NOT NULL,
	"camera" text NOT NULL,
	"what" text NOT NULL,
	"refused" text
);
--> statement-breakpoint
CREATE TABLE "owner_setting" (
	"key" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "session" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"person_id" uuid NOT NULL,
	"hash" text NOT NULL,
	"address" text NOT NULL,
	"device" text NOT NULL,
	"last_seen_at" timestamp with time zone DEFAULT now() NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "session_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "grant" jsonb;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "password_hash" text;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "invitation_id" uuid;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "journal_at" ON "journal" USING btree ("at");--> statement-breakpoint
ALTER TABLE "person" ADD CONSTRAINT "person_invitation_id_invitation_id_fk" FOREIGN KEY ("invitation_id") REFERENCES "public"."invitation"("id") ON DELETE cascade ON UPDATE no action;