ALTER TABLE "experiment" ADD COLUMN "expectation" jsonb;--> statement-breakpoint
ALTER TABLE "visitor_value" ADD COLUMN "expected" numeric;