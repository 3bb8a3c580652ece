DROP INDEX "factor_experiment";--> statement-breakpoint
DROP INDEX "level_factor";--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "combinations_off" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "factor" ADD COLUMN "key" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "level" ADD COLUMN "key" text;--> statement-breakpoint
ALTER TABLE "level" ADD COLUMN "position" smallint;--> statement-breakpoint
ALTER TABLE "level" ADD COLUMN "name" text;--> statement-breakpoint
UPDATE "level" SET "key" = "variant"."id", "position" = "variant"."position", "name" = "variant"."name"
  FROM "variant" WHERE "level"."id" = ANY("variant"."levels");--> statement-breakpoint
DELETE FROM "level" WHERE "key" IS NULL;--> statement-breakpoint
ALTER TABLE "level" ALTER COLUMN "key" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "level" ALTER COLUMN "position" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "level" ALTER COLUMN "name" SET NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "factor_key" ON "factor" USING btree ("experiment_id","key");--> statement-breakpoint
CREATE UNIQUE INDEX "level_key" ON "level" USING btree ("factor_id","key");
