ALTER TABLE "site" ADD COLUMN "event_details" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "event" ADD COLUMN "details" jsonb;