DROP INDEX "variant_experiment";--> statement-breakpoint
ALTER TABLE "variant" DROP CONSTRAINT "variant_pkey";--> statement-breakpoint
ALTER TABLE "variant" ALTER COLUMN "id" DROP IDENTITY;--> statement-breakpoint
ALTER TABLE "variant" ALTER COLUMN "id" SET DATA TYPE text USING 'variant-' || "id";--> statement-breakpoint
ALTER TABLE "variant" ADD CONSTRAINT "variant_experiment_id_id_pk" PRIMARY KEY("experiment_id","id");--> statement-breakpoint
ALTER TABLE "metric_version" DROP CONSTRAINT "metric_version_metric_id_metric_id_fk";--> statement-breakpoint
ALTER TABLE "metric" ALTER COLUMN "id" DROP IDENTITY;--> statement-breakpoint
ALTER TABLE "metric" ALTER COLUMN "id" SET DATA TYPE text USING 'metric-' || "id";--> statement-breakpoint
ALTER TABLE "metric_version" ALTER COLUMN "metric_id" SET DATA TYPE text USING 'metric-' || "metric_id";--> statement-breakpoint
ALTER TABLE "metric_version" ADD CONSTRAINT "metric_version_metric_id_metric_id_fk" FOREIGN KEY ("metric_id") REFERENCES "public"."metric"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE "experiment" SET "page_rules" = coalesce((
  SELECT jsonb_agg("rule" || jsonb_build_object('id', 'address-' || "position") ORDER BY "position")
  FROM jsonb_array_elements("page_rules") WITH ORDINALITY AS "rules"("rule", "position")
), '[]');--> statement-breakpoint
ALTER TABLE "change_log" ADD COLUMN "change_id" uuid;--> statement-breakpoint
ALTER TABLE "change_log" ADD COLUMN "change" jsonb;--> statement-breakpoint
ALTER TABLE "change_log" ADD COLUMN "inverse" jsonb;--> statement-breakpoint
ALTER TABLE "change_log" ADD COLUMN "words" text;--> statement-breakpoint
CREATE UNIQUE INDEX "change_log_once" ON "change_log" USING btree ("subject","subject_id","change_id");--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "decision" jsonb;
