ALTER TABLE "holdout" ADD COLUMN "closed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "holdout" ADD COLUMN "reading" jsonb;