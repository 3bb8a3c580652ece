ALTER TYPE "public"."exclusion_kind" RENAME VALUE 'network' TO 'crowd';--> statement-breakpoint
ALTER TABLE "exclusion" ADD COLUMN "crowd" jsonb;--> statement-breakpoint
-- Crowds of before were of networks, whose hashes are of a day.
UPDATE "exclusion" e SET "crowd" = jsonb_build_object(
  'day', coalesce((SELECT c."day" FROM "crowd" c WHERE c."experiment_id" = e."experiment_id" AND c."network" = e."network" LIMIT 1), e."created_at"::date)::text,
  'kind', 'network',
  'value', e."network"
) WHERE e."network" IS NOT NULL;--> statement-breakpoint
ALTER TABLE "exclusion" DROP COLUMN "network";--> statement-breakpoint
ALTER TABLE "crowd" DROP CONSTRAINT "crowd_site_id_experiment_id_day_network_pk";--> statement-breakpoint
ALTER TABLE "crowd" RENAME COLUMN "network" TO "value";--> statement-breakpoint
ALTER TABLE "crowd" ADD COLUMN "kind" text DEFAULT 'network' NOT NULL;--> statement-breakpoint
ALTER TABLE "crowd" ADD COLUMN "usual" double precision DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "crowd" ALTER COLUMN "kind" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "crowd" ALTER COLUMN "usual" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "crowd" ADD CONSTRAINT "crowd_site_id_experiment_id_day_kind_value_pk" PRIMARY KEY("site_id","experiment_id","day","kind","value");
