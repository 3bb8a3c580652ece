CREATE TABLE "home_check" (
	"experiment_id" integer PRIMARY KEY NOT NULL,
	"site_id" integer NOT NULL,
	"look" jsonb NOT NULL,
	"checked_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "home_check" ADD CONSTRAINT "home_check_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "home_check" ADD CONSTRAINT "home_check_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;