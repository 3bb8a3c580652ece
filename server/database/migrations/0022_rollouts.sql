CREATE TABLE "rollout" (
	"id" integer PRIMARY KEY DEFAULT nextval('experiment_id_seq') NOT NULL,
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"variant_id" text NOT NULL,
	"salt" text NOT NULL,
	"share" smallint NOT NULL,
	"is_for_everybody" boolean NOT NULL,
	"is_on" boolean DEFAULT true NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "rollout" ADD CONSTRAINT "rollout_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rollout" ADD CONSTRAINT "rollout_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rollout" ADD CONSTRAINT "rollout_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rollout_site" ON "rollout" USING btree ("site_id");--> statement-breakpoint
CREATE UNIQUE INDEX "rollout_experiment" ON "rollout" USING btree ("experiment_id");