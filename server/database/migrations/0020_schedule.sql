ALTER TABLE "experiment" ADD COLUMN "starts_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "ends_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "schedule_problem" text;