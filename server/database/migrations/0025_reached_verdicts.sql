CREATE TABLE "reached_verdict" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"content" jsonb NOT NULL,
	CONSTRAINT "reached_verdict_site_id_experiment_id_pk" PRIMARY KEY("site_id","experiment_id")
);
--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "cubes" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "denominator_by_squares" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "denominator_squares_by_value" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "statistic" ADD COLUMN "denominator_cubes" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
-- Sums of products of three, from the values that the other sums are of.
UPDATE "statistic" s SET cubes = c.yyy, denominator_by_squares = c.yyz, denominator_squares_by_value = c.yzz, denominator_cubes = c.zzz
FROM (
  SELECT site_id, experiment_id, metric_version_id, variant, has_past, d.key AS dimension, d.value AS label,
    sum(y * y * y) AS yyy, sum(y * y * z) AS yyz, sum(y * z * z) AS yzz, sum(z * z * z) AS zzz
  FROM (
    SELECT v.site_id, v.experiment_id, v.metric_version_id, x.variant, v.past IS NOT NULL AS has_past,
      least(v.value, m.cap) AS y, v.denominator AS z, x.segments || jsonb_build_object('day', x.day::text) AS labels
    FROM visitor_value v
    JOIN exposure x ON x.site_id = v.site_id AND x.visitor_id = v.visitor_id AND x.experiment_id = v.experiment_id
    LEFT JOIN metric_version m ON m.site_id = v.site_id AND m.id = v.metric_version_id
    WHERE x.left_out IS NULL
  ) counted CROSS JOIN LATERAL jsonb_each_text(labels) d
  GROUP BY 1, 2, 3, 4, 5, 6, 7
) c
WHERE s.site_id = c.site_id AND s.experiment_id = c.experiment_id AND s.metric_version_id = c.metric_version_id
  AND s.variant = c.variant AND s.has_past = c.has_past AND s.dimension = c.dimension AND s.value = c.label;--> statement-breakpoint
-- Looks that were stored after an experiment had ended.
DELETE FROM "look" l USING experiment e JOIN site s ON s.id = e.site_id
WHERE e.site_id = l.site_id AND e.id = l.experiment_id AND e.ended_at IS NOT NULL
  AND l.day > (e.ended_at AT TIME ZONE s.time_zone)::date;--> statement-breakpoint
INSERT INTO "summary_due" ("site_id", "experiment_id") SELECT site_id, id FROM experiment WHERE started_at IS NOT NULL
ON CONFLICT DO NOTHING;
