ALTER TYPE "public"."exclusion_kind" ADD VALUE 'segment';--> statement-breakpoint
ALTER TABLE "exclusion" ADD COLUMN "segment" jsonb;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "split_settlement" jsonb;