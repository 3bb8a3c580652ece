CREATE TABLE "environment_share" (
	"site_id" integer NOT NULL,
	"environment_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"share" smallint NOT NULL,
	CONSTRAINT "environment_share_environment_id_experiment_id_pk" PRIMARY KEY("environment_id","experiment_id")
);
--> statement-breakpoint
CREATE TABLE "exclusion_group" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "exclusion_group_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"salt" text NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "holdout" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "holdout_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"salt" text NOT NULL,
	"share" smallint NOT NULL,
	"starts_at" timestamp with time zone NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "saved_audience" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "saved_audience_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "saved_audience_version" (
	"site_id" integer NOT NULL,
	"audience_id" integer NOT NULL,
	"version" integer NOT NULL,
	"conditions" jsonb NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "saved_audience_version_audience_id_version_pk" PRIMARY KEY("audience_id","version")
);
--> statement-breakpoint
CREATE TABLE "test_persona" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "test_persona_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"visitor_id" text NOT NULL,
	"facts" jsonb NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "attributes" text[] DEFAULT '{}'::text[] NOT NULL;--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "ad_parameters" jsonb DEFAULT '{"campaign": "", "group": "", "keyword": ""}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "handing_on" jsonb;--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "environment_of" integer;--> statement-breakpoint
ALTER TABLE "drift_check" ADD COLUMN "paused_for" text;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "terms" jsonb DEFAULT '{"unit": "visitor", "group": null, "rank": 1, "activation": null, "leaves": false, "ramp": []}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "audience_versions" jsonb;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "buckets" jsonb;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "ramp_step" smallint;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "ramp_since" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "ramp_final" smallint;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "ramp_problem" text;--> statement-breakpoint
ALTER TABLE "event" ADD COLUMN "person_id" text;--> statement-breakpoint
ALTER TABLE "page_view" ADD COLUMN "attributes" jsonb;--> statement-breakpoint
ALTER TABLE "page_view" ADD COLUMN "person_id" text;--> statement-breakpoint
ALTER TABLE "environment_share" ADD CONSTRAINT "environment_share_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "environment_share" ADD CONSTRAINT "environment_share_environment_id_site_id_fk" FOREIGN KEY ("environment_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "environment_share" ADD CONSTRAINT "environment_share_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exclusion_group" ADD CONSTRAINT "exclusion_group_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exclusion_group" ADD CONSTRAINT "exclusion_group_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "holdout" ADD CONSTRAINT "holdout_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "holdout" ADD CONSTRAINT "holdout_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_audience" ADD CONSTRAINT "saved_audience_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_audience" ADD CONSTRAINT "saved_audience_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_audience_version" ADD CONSTRAINT "saved_audience_version_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_audience_version" ADD CONSTRAINT "saved_audience_version_audience_id_saved_audience_id_fk" FOREIGN KEY ("audience_id") REFERENCES "public"."saved_audience"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_audience_version" ADD CONSTRAINT "saved_audience_version_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "test_persona" ADD CONSTRAINT "test_persona_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "test_persona" ADD CONSTRAINT "test_persona_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "exclusion_group_site" ON "exclusion_group" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "holdout_site" ON "holdout" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "saved_audience_site" ON "saved_audience" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "test_persona_site" ON "test_persona" USING btree ("site_id");--> statement-breakpoint
ALTER TABLE "site" ADD CONSTRAINT "site_environment_of_site_id_fk" FOREIGN KEY ("environment_of") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "event_person" ON "event" USING btree ("site_id","person_id") WHERE person_id IS NOT NULL;--> statement-breakpoint
CREATE INDEX "page_view_person" ON "page_view" USING btree ("site_id","person_id") WHERE person_id IS NOT NULL;