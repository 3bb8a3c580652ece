CREATE TABLE "environment_share" (
	"site_id" integer NOT NULL,
	"environment_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"share" smallint NOT NULL,
	CONSTRAINT "environment_share_environment_id_experiment_id_pk" PRIMARY KEY("environment_id","experiment_id")
);
--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "environment_of" integer;--> statement-breakpoint
ALTER TABLE "drift_check" ADD COLUMN "paused_for" text;--> statement-breakpoint
ALTER TABLE "environment_share" ADD CONSTRAINT "environment_share_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "environment_share" ADD CONSTRAINT "environment_share_environment_id_site_id_fk" FOREIGN KEY ("environment_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "environment_share" ADD CONSTRAINT "environment_share_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "site" ADD CONSTRAINT "site_environment_of_site_id_fk" FOREIGN KEY ("environment_of") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;