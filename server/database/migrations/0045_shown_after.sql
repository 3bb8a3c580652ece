ALTER TABLE "event" ADD COLUMN "shown_after" integer;--> statement-breakpoint
ALTER TABLE "exposure" ADD COLUMN "shown_after" integer;