ALTER TYPE "public"."exclusion_kind" ADD VALUE 'network';--> statement-breakpoint
CREATE TABLE "crowd" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"day" date NOT NULL,
	"network" text NOT NULL,
	"arms" jsonb NOT NULL,
	"of_day" integer NOT NULL,
	CONSTRAINT "crowd_site_id_experiment_id_day_network_pk" PRIMARY KEY("site_id","experiment_id","day","network")
);
--> statement-breakpoint
ALTER TABLE "exclusion" ADD COLUMN "network" text;--> statement-breakpoint
ALTER TABLE "exclusion" ADD COLUMN "visitor_ids" text[];