CREATE TABLE "drift_check" (
	"experiment_id" integer PRIMARY KEY NOT NULL,
	"site_id" integer NOT NULL,
	"pages" text[] NOT NULL,
	"at_start" text[] NOT NULL,
	"drift" text[] NOT NULL,
	"since" timestamp with time zone,
	"checked_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "drift_check" ADD CONSTRAINT "drift_check_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "drift_check" ADD CONSTRAINT "drift_check_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;