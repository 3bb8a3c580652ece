CREATE TYPE "public"."role" AS ENUM('owner', 'editor', 'viewer');--> statement-breakpoint
CREATE TYPE "public"."direction" AS ENUM('up', 'down');--> statement-breakpoint
CREATE TYPE "public"."experiment_state" AS ENUM('draft', 'running', 'paused', 'ended');--> statement-breakpoint
CREATE TYPE "public"."metric_kind" AS ENUM('conversion', 'mean');--> statement-breakpoint
CREATE TYPE "public"."metric_role" AS ENUM('primary', 'secondary', 'guardrail');--> statement-breakpoint
CREATE TABLE "membership" (
	"organisation_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"role" "role" NOT NULL,
	CONSTRAINT "membership_organisation_id_person_id_pk" PRIMARY KEY("organisation_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "organisation" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "organisation_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "person" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"email" text NOT NULL,
	"name" text NOT NULL,
	"password_hash" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rate_limit" (
	"key" varchar(255) PRIMARY KEY NOT NULL,
	"points" integer DEFAULT 0 NOT NULL,
	"expire" bigint
);
--> statement-breakpoint
CREATE TABLE "change_log" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "change_log_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"person_id" integer,
	"subject" text NOT NULL,
	"subject_id" integer NOT NULL,
	"action" text NOT NULL,
	"before" jsonb,
	"after" jsonb,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "site" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "site_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"organisation_id" integer NOT NULL,
	"name" text NOT NULL,
	"address" text NOT NULL,
	"key" text NOT NULL,
	"time_zone" text DEFAULT 'UTC' NOT NULL,
	"currency" text DEFAULT 'EUR' NOT NULL,
	"asks_consent" boolean DEFAULT false NOT NULL,
	"first_report_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "site_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "site_file" (
	"site_id" integer PRIMARY KEY NOT NULL,
	"version" integer NOT NULL,
	"content" jsonb NOT NULL,
	"compiled_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "edit" (
	"experiment_id" integer NOT NULL,
	"variant_position" smallint NOT NULL,
	"position" smallint NOT NULL,
	"site_id" integer NOT NULL,
	"content" jsonb NOT NULL,
	CONSTRAINT "edit_experiment_id_variant_position_position_pk" PRIMARY KEY("experiment_id","variant_position","position")
);
--> statement-breakpoint
CREATE TABLE "experiment" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "experiment_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"hypothesis" text DEFAULT '' NOT NULL,
	"state" "experiment_state" DEFAULT 'draft' NOT NULL,
	"salt" text NOT NULL,
	"page_rules" jsonb NOT NULL,
	"share" smallint DEFAULT 10000 NOT NULL,
	"plan" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "experiment_metric" (
	"experiment_id" integer NOT NULL,
	"metric_id" integer NOT NULL,
	"site_id" integer NOT NULL,
	"role" "metric_role" NOT NULL,
	"direction" "direction" DEFAULT 'up' NOT NULL,
	CONSTRAINT "experiment_metric_experiment_id_metric_id_pk" PRIMARY KEY("experiment_id","metric_id")
);
--> statement-breakpoint
CREATE TABLE "metric" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "metric_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"kind" "metric_kind" NOT NULL,
	"source" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "variant" (
	"experiment_id" integer NOT NULL,
	"position" smallint NOT NULL,
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"weight" integer NOT NULL,
	CONSTRAINT "variant_experiment_id_position_pk" PRIMARY KEY("experiment_id","position")
);
--> statement-breakpoint
CREATE SEQUENCE "event_seq";--> statement-breakpoint
CREATE TABLE "event" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"id" uuid NOT NULL,
	"made_at" timestamp with time zone NOT NULL,
	"seq" bigint DEFAULT nextval('event_seq') NOT NULL,
	"type" text NOT NULL,
	"occurred_at" timestamp with time zone NOT NULL,
	"received_at" timestamp with time zone NOT NULL,
	"session_id" text NOT NULL,
	"address" text NOT NULL,
	"experiment_id" integer,
	"variant" smallint,
	"selectors" text[],
	"name" text,
	"amount" numeric,
	"currency" text,
	"properties" jsonb,
	CONSTRAINT "event_site_id_visitor_id_id_made_at_pk" PRIMARY KEY("site_id","visitor_id","id","made_at")
) PARTITION BY RANGE ("made_at");
--> statement-breakpoint
CREATE TABLE "event_astray" PARTITION OF "event" DEFAULT;
--> statement-breakpoint
CREATE TABLE "exposure" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"experiment_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"exposed_at" timestamp with time zone NOT NULL,
	"day" date NOT NULL,
	"crossed" boolean DEFAULT false NOT NULL,
	CONSTRAINT "exposure_site_id_visitor_id_experiment_id_pk" PRIMARY KEY("site_id","visitor_id","experiment_id")
);
--> statement-breakpoint
CREATE TABLE "exposure_count" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"day" date NOT NULL,
	"visitors" bigint NOT NULL,
	"crossed" bigint NOT NULL,
	CONSTRAINT "exposure_count_experiment_id_variant_day_pk" PRIMARY KEY("experiment_id","variant","day")
);
--> statement-breakpoint
CREATE TABLE "fold_cursor" (
	"id" smallint PRIMARY KEY NOT NULL,
	"seq" bigint NOT NULL,
	"folded_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "statistic" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"metric_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"day" date NOT NULL,
	"sum" numeric NOT NULL,
	"sum_of_squares" numeric NOT NULL,
	CONSTRAINT "statistic_experiment_id_metric_id_variant_day_pk" PRIMARY KEY("experiment_id","metric_id","variant","day")
);
--> statement-breakpoint
CREATE TABLE "visitor_value" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"experiment_id" integer NOT NULL,
	"metric_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"day" date NOT NULL,
	"value" numeric NOT NULL,
	CONSTRAINT "visitor_value_site_id_visitor_id_experiment_id_metric_id_pk" PRIMARY KEY("site_id","visitor_id","experiment_id","metric_id")
);
--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_organisation_id_organisation_id_fk" FOREIGN KEY ("organisation_id") REFERENCES "public"."organisation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_log" ADD CONSTRAINT "change_log_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_log" ADD CONSTRAINT "change_log_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "site" ADD CONSTRAINT "site_organisation_id_organisation_id_fk" FOREIGN KEY ("organisation_id") REFERENCES "public"."organisation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "site_file" ADD CONSTRAINT "site_file_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edit" ADD CONSTRAINT "edit_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edit" ADD CONSTRAINT "edit_experiment_id_variant_position_variant_experiment_id_position_fk" FOREIGN KEY ("experiment_id","variant_position") REFERENCES "public"."variant"("experiment_id","position") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment" ADD CONSTRAINT "experiment_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment" ADD CONSTRAINT "experiment_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD CONSTRAINT "experiment_metric_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD CONSTRAINT "experiment_metric_metric_id_metric_id_fk" FOREIGN KEY ("metric_id") REFERENCES "public"."metric"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD CONSTRAINT "experiment_metric_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "metric" ADD CONSTRAINT "metric_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "variant" ADD CONSTRAINT "variant_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "variant" ADD CONSTRAINT "variant_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "person_email" ON "person" USING btree (lower("email"));--> statement-breakpoint
CREATE INDEX "experiment_site" ON "experiment" USING btree ("site_id","state");--> statement-breakpoint
CREATE INDEX "event_by_seq" ON "event" USING btree ("seq");--> statement-breakpoint
INSERT INTO "fold_cursor" ("id", "seq") VALUES (1, 0);
