ALTER TYPE "public"."metric_kind" ADD VALUE 'ratio';--> statement-breakpoint
ALTER TABLE "statistic" DROP CONSTRAINT "statistic_experiment_id_metric_id_variant_day_pk";--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD COLUMN "harm_limit" double precision;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD COLUMN "position" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "metric" ADD COLUMN "denominator" jsonb;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "has_past" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "visitors" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "active" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "denominator_sum" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "denominator_squares" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "denominator_products" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "past_sum" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "past_squares" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "past_products" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "past_denominator_products" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "visitor_value" ADD COLUMN "denominator" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "visitor_value" ADD COLUMN "past" numeric;--> statement-breakpoint
ALTER TABLE "statistic" ADD CONSTRAINT "statistic_experiment_id_metric_id_variant_day_has_past_pk" PRIMARY KEY("experiment_id","metric_id","variant","day","has_past");--> statement-breakpoint
UPDATE "statistic" s SET "visitors" = v."visitors", "active" = v."active"
FROM (
  SELECT "experiment_id", "metric_id", "variant", "day", count(*) AS "visitors", count(*) FILTER (WHERE "value" <> 0) AS "active"
  FROM "visitor_value" GROUP BY 1, 2, 3, 4
) v
WHERE (s."experiment_id", s."metric_id", s."variant", s."day") = (v."experiment_id", v."metric_id", v."variant", v."day");
