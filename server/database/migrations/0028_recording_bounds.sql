DROP INDEX "recording_time";--> statement-breakpoint
ALTER TABLE "recording" ADD COLUMN "listed_at" timestamp with time zone;--> statement-breakpoint
-- Whoever said that a recording is of the future has it listed when it came.
UPDATE "recording" SET "listed_at" = least("started_at", "received_at");--> statement-breakpoint
ALTER TABLE "recording" ALTER COLUMN "listed_at" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "recording" ADD COLUMN "unpacked" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "recording" ADD COLUMN "network" text;--> statement-breakpoint
ALTER TABLE "recording_chunk" ADD COLUMN "unpacked" integer;--> statement-breakpoint
CREATE INDEX "recording_listed" ON "recording" USING btree ("site_id","listed_at");--> statement-breakpoint
CREATE INDEX "recording_received" ON "recording" USING btree ("site_id","received_at");--> statement-breakpoint
CREATE INDEX "recording_network" ON "recording" USING btree ("site_id","network");--> statement-breakpoint
-- Reasons used to repeat what was sent.
WITH strange AS (
  DELETE FROM "refusal" WHERE "reason" LIKE '%unspecified keys%' OR "reason" LIKE '%no such field%' OR "reason" LIKE '%final value was%'
  RETURNING "site_id", "day", "events"
)
INSERT INTO "refusal" ("site_id", "day", "reason", "events")
SELECT "site_id", "day", 'it has a field that is not known', sum("events") FROM strange GROUP BY 1, 2
ON CONFLICT ("site_id", "day", "reason") DO UPDATE SET "events" = "refusal"."events" + excluded."events";
