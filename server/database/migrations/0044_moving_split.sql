CREATE TABLE "allocation_period" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"period" smallint NOT NULL,
	"since" timestamp with time zone NOT NULL,
	"weights" integer[] NOT NULL,
	"chances" double precision[],
	CONSTRAINT "allocation_period_experiment_id_period_pk" PRIMARY KEY("experiment_id","period")
);
--> statement-breakpoint
ALTER TABLE "event" ADD COLUMN "period" smallint;--> statement-breakpoint
ALTER TABLE "exposure" ADD COLUMN "period" smallint;--> statement-breakpoint
ALTER TABLE "allocation_period" ADD CONSTRAINT "allocation_period_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "allocation_period" ADD CONSTRAINT "allocation_period_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;