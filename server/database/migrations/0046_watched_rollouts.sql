CREATE TABLE "rollout_check" (
	"rollout_id" integer PRIMARY KEY NOT NULL,
	"site_id" integer NOT NULL,
	"pages" text[] NOT NULL,
	"with_line" text[] DEFAULT '{}' NOT NULL,
	"at_start" text[] NOT NULL,
	"drift" text[] NOT NULL,
	"since" timestamp with time zone,
	"checked_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
DROP INDEX "alarm_open";--> statement-breakpoint
ALTER TABLE "alarm" ADD COLUMN "rollout_id" integer;--> statement-breakpoint
ALTER TABLE "rollout_check" ADD CONSTRAINT "rollout_check_rollout_id_rollout_id_fk" FOREIGN KEY ("rollout_id") REFERENCES "public"."rollout"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rollout_check" ADD CONSTRAINT "rollout_check_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "alarm" ADD CONSTRAINT "alarm_rollout_id_rollout_id_fk" FOREIGN KEY ("rollout_id") REFERENCES "public"."rollout"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "alarm_open" ON "alarm" USING btree ("site_id",coalesce(experiment_id, rollout_id, 0),"check","cause") WHERE "alarm"."closed_at" is null;