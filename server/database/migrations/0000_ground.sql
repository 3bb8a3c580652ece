CREATE SEQUENCE "arrival_seq";--> statement-breakpoint
CREATE TYPE "public"."role" AS ENUM('owner', 'editor', 'viewer');--> statement-breakpoint
CREATE TYPE "public"."token_scope" AS ENUM('read', 'edit', 'manage');--> statement-breakpoint
CREATE TYPE "public"."metric_kind" AS ENUM('conversion', 'mean', 'ratio');--> statement-breakpoint
CREATE TYPE "public"."direction" AS ENUM('up', 'down');--> statement-breakpoint
CREATE TYPE "public"."exclusion_kind" AS ENUM('visitor', 'team', 'span');--> statement-breakpoint
CREATE TYPE "public"."experiment_state" AS ENUM('draft', 'running', 'paused', 'ended');--> statement-breakpoint
CREATE TYPE "public"."metric_role" AS ENUM('primary', 'secondary', 'guardrail');--> statement-breakpoint
CREATE TABLE "account_session" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "account_session_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"hash" text NOT NULL,
	"person_id" integer NOT NULL,
	"device" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "account_session_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "known_device" (
	"person_id" integer NOT NULL,
	"hash" text NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "known_device_person_id_hash_pk" PRIMARY KEY("person_id","hash")
);
--> statement-breakpoint
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
CREATE TABLE "currency_rate" (
	"site_id" integer NOT NULL,
	"currency" text NOT NULL,
	"from" date NOT NULL,
	"rate" double precision NOT NULL,
	CONSTRAINT "currency_rate_site_id_currency_from_pk" PRIMARY KEY("site_id","currency","from")
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
	"largest_amount" double precision DEFAULT 100000 NOT NULL,
	"asks_consent" boolean DEFAULT false NOT NULL,
	"parameters" text[] DEFAULT '{}'::text[] NOT NULL,
	"own_networks" text[] DEFAULT '{}'::text[] NOT NULL,
	"retention_days" integer DEFAULT 400 NOT NULL,
	"own_path" text,
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
CREATE TABLE "token" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "token_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"scope" "token_scope" NOT NULL,
	"hash" text NOT NULL,
	"beginning" text NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone,
	"revoked_at" timestamp with time zone,
	CONSTRAINT "token_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "metric" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "metric_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "metric_version" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "metric_version_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"metric_id" integer NOT NULL,
	"version" integer NOT NULL,
	"kind" "metric_kind" NOT NULL,
	"source" jsonb NOT NULL,
	"denominator" jsonb,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "edit" (
	"site_id" integer NOT NULL,
	"id" text NOT NULL,
	"level_id" integer NOT NULL,
	"position" smallint NOT NULL,
	"content" jsonb NOT NULL,
	CONSTRAINT "edit_level_id_id_pk" PRIMARY KEY("level_id","id")
);
--> statement-breakpoint
CREATE TABLE "exclusion" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "exclusion_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"kind" "exclusion_kind" NOT NULL,
	"visitor_id" text,
	"from" timestamp with time zone,
	"until" timestamp with time zone,
	"reason" text NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
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
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"metric_version_id" integer NOT NULL,
	"role" "metric_role" NOT NULL,
	"direction" "direction" DEFAULT 'up' NOT NULL,
	"harm_limit" double precision,
	"position" smallint DEFAULT 0 NOT NULL,
	CONSTRAINT "experiment_metric_experiment_id_metric_version_id_pk" PRIMARY KEY("experiment_id","metric_version_id")
);
--> statement-breakpoint
CREATE TABLE "factor" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "factor_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"position" smallint NOT NULL,
	"name" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "level" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "level_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"factor_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "variant" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "variant_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"position" smallint NOT NULL,
	"name" text NOT NULL,
	"weight" integer NOT NULL,
	"levels" integer[] DEFAULT '{}'::int[] NOT NULL
);
--> statement-breakpoint
CREATE TABLE "event" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"id" uuid NOT NULL,
	"seq" bigint DEFAULT nextval('arrival_seq') NOT NULL,
	"session_id" text NOT NULL,
	"occurred_at" timestamp with time zone NOT NULL,
	"received_at" timestamp with time zone NOT NULL,
	"address" text NOT NULL,
	"digest" "bytea" NOT NULL,
	"view_id" uuid NOT NULL,
	"type" text NOT NULL,
	"experiment_id" integer,
	"variant" smallint,
	"element" text,
	"label" text,
	"page_x" integer,
	"page_y" integer,
	"element_x" integer,
	"element_y" integer,
	"name" text,
	"amount" numeric,
	"currency" text,
	"reference" text,
	"once" text,
	"properties" jsonb,
	CONSTRAINT "event_site_id_visitor_id_id_pk" PRIMARY KEY("site_id","visitor_id","id")
) PARTITION BY RANGE ("id");
--> statement-breakpoint
CREATE TABLE "event_astray" PARTITION OF "event" DEFAULT;
--> statement-breakpoint
CREATE TABLE "page_view" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"id" uuid NOT NULL,
	"seq" bigint DEFAULT nextval('arrival_seq') NOT NULL,
	"session_id" text NOT NULL,
	"occurred_at" timestamp with time zone NOT NULL,
	"received_at" timestamp with time zone NOT NULL,
	"address" text NOT NULL,
	"digest" "bytea" NOT NULL,
	"clock_offset" bigint NOT NULL,
	"title" text,
	"visit" integer,
	"device" text NOT NULL,
	"system" text NOT NULL,
	"browser" text NOT NULL,
	"browser_version" text,
	"language" text,
	"time_zone" text,
	"country" text,
	"region" text,
	"city" text,
	"referrer_host" text,
	"campaign_source" text,
	"campaign_medium" text,
	"campaign" text,
	"campaign_term" text,
	"campaign_content" text,
	"screen_width" integer,
	"screen_height" integer,
	"window_width" integer,
	"window_height" integer,
	"network" text,
	"is_team" boolean NOT NULL,
	"is_robot" boolean NOT NULL,
	CONSTRAINT "page_view_site_id_visitor_id_id_pk" PRIMARY KEY("site_id","visitor_id","id")
) PARTITION BY RANGE ("id");
--> statement-breakpoint
CREATE TABLE "page_view_astray" PARTITION OF "page_view" DEFAULT;
--> statement-breakpoint
CREATE TABLE "session" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"id" text NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone NOT NULL,
	"views" integer NOT NULL,
	"entry_address" text NOT NULL,
	"exit_address" text NOT NULL,
	"device" text NOT NULL,
	"system" text NOT NULL,
	"browser" text NOT NULL,
	"browser_version" text,
	"language" text,
	"time_zone" text,
	"country" text,
	"region" text,
	"city" text,
	"referrer_host" text,
	"campaign_source" text,
	"campaign_medium" text,
	"campaign" text,
	"campaign_term" text,
	"campaign_content" text,
	CONSTRAINT "session_site_id_visitor_id_id_pk" PRIMARY KEY("site_id","visitor_id","id")
);
--> statement-breakpoint
CREATE TABLE "visitor" (
	"site_id" integer NOT NULL,
	"id" text NOT NULL,
	"first_seen_at" timestamp with time zone NOT NULL,
	"last_seen_at" timestamp with time zone NOT NULL,
	"views" integer NOT NULL,
	"events" integer NOT NULL,
	"is_robot" boolean NOT NULL,
	"is_team" boolean NOT NULL,
	"left_out" text,
	CONSTRAINT "visitor_site_id_id_pk" PRIMARY KEY("site_id","id")
);
--> statement-breakpoint
CREATE TABLE "background_job" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "background_job_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer,
	"title" text NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"progress" double precision DEFAULT 0 NOT NULL,
	"problem" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "experiment_summary" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"content" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "experiment_summary_site_id_experiment_id_pk" PRIMARY KEY("site_id","experiment_id")
);
--> statement-breakpoint
CREATE TABLE "exposure" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"experiment_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"exposed_at" timestamp with time zone NOT NULL,
	"event_id" uuid NOT NULL,
	"view_id" uuid NOT NULL,
	"day" date NOT NULL,
	"crossed" boolean DEFAULT false NOT NULL,
	"segments" jsonb NOT NULL,
	"left_out" text,
	CONSTRAINT "exposure_site_id_visitor_id_experiment_id_pk" PRIMARY KEY("site_id","visitor_id","experiment_id")
);
--> statement-breakpoint
CREATE TABLE "exposure_count" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"dimension" text NOT NULL,
	"value" text NOT NULL,
	"visitors" bigint DEFAULT 0 NOT NULL,
	"crossed" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "exposure_count_site_id_experiment_id_dimension_value_variant_pk" PRIMARY KEY("site_id","experiment_id","dimension","value","variant")
);
--> statement-breakpoint
CREATE TABLE "fold_cursor" (
	"site_id" integer PRIMARY KEY NOT NULL,
	"seq" bigint NOT NULL,
	"folded_at" timestamp with time zone,
	"as_of" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "foreign_amount" (
	"site_id" integer NOT NULL,
	"day" date NOT NULL,
	"currency" text NOT NULL,
	"amounts" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "foreign_amount_site_id_day_currency_pk" PRIMARY KEY("site_id","day","currency")
);
--> statement-breakpoint
CREATE TABLE "look" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"metric_version_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"day" date NOT NULL,
	"as_of" timestamp with time zone NOT NULL,
	"control_visitors" bigint NOT NULL,
	"visitors" bigint NOT NULL,
	"control_mean" double precision,
	"mean" double precision,
	"lift" double precision,
	"low" double precision,
	"high" double precision,
	"p_value" double precision,
	"smallest_p_value" double precision,
	"fixed_low" double precision,
	"fixed_high" double precision,
	"fixed_p_value" double precision,
	CONSTRAINT "look_site_id_experiment_id_metric_version_id_variant_day_pk" PRIMARY KEY("site_id","experiment_id","metric_version_id","variant","day")
);
--> statement-breakpoint
CREATE TABLE "refusal" (
	"site_id" integer NOT NULL,
	"day" date NOT NULL,
	"reason" text NOT NULL,
	"events" bigint DEFAULT 0 NOT NULL,
	CONSTRAINT "refusal_site_id_day_reason_pk" PRIMARY KEY("site_id","day","reason")
);
--> statement-breakpoint
CREATE TABLE "set_aside" (
	"site_id" integer NOT NULL,
	"seq" bigint NOT NULL,
	"reason" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "set_aside_site_id_seq_pk" PRIMARY KEY("site_id","seq")
);
--> statement-breakpoint
CREATE TABLE "statistic" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"metric_version_id" integer NOT NULL,
	"variant" smallint NOT NULL,
	"dimension" text NOT NULL,
	"value" text NOT NULL,
	"has_past" boolean NOT NULL,
	"visitors" bigint DEFAULT 0 NOT NULL,
	"active" bigint DEFAULT 0 NOT NULL,
	"sum" numeric DEFAULT '0' NOT NULL,
	"squares" numeric DEFAULT '0' NOT NULL,
	"denominator_sum" numeric DEFAULT '0' NOT NULL,
	"denominator_squares" numeric DEFAULT '0' NOT NULL,
	"denominator_products" numeric DEFAULT '0' NOT NULL,
	"past_sum" numeric DEFAULT '0' NOT NULL,
	"past_squares" numeric DEFAULT '0' NOT NULL,
	"past_products" numeric DEFAULT '0' NOT NULL,
	"past_denominator_products" numeric DEFAULT '0' NOT NULL,
	CONSTRAINT "statistic_site_id_experiment_id_dimension_value_metric_version_id_variant_has_past_pk" PRIMARY KEY("site_id","experiment_id","dimension","value","metric_version_id","variant","has_past")
);
--> statement-breakpoint
CREATE TABLE "visitor_value" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"experiment_id" integer NOT NULL,
	"metric_version_id" integer NOT NULL,
	"value" numeric NOT NULL,
	"denominator" numeric DEFAULT '0' NOT NULL,
	"past" numeric,
	CONSTRAINT "visitor_value_site_id_visitor_id_experiment_id_metric_version_id_pk" PRIMARY KEY("site_id","visitor_id","experiment_id","metric_version_id")
);
--> statement-breakpoint
ALTER TABLE "account_session" ADD CONSTRAINT "account_session_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "known_device" ADD CONSTRAINT "known_device_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_organisation_id_organisation_id_fk" FOREIGN KEY ("organisation_id") REFERENCES "public"."organisation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_log" ADD CONSTRAINT "change_log_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change_log" ADD CONSTRAINT "change_log_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "currency_rate" ADD CONSTRAINT "currency_rate_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "site" ADD CONSTRAINT "site_organisation_id_organisation_id_fk" FOREIGN KEY ("organisation_id") REFERENCES "public"."organisation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "site_file" ADD CONSTRAINT "site_file_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "token" ADD CONSTRAINT "token_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "token" ADD CONSTRAINT "token_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "metric" ADD CONSTRAINT "metric_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "metric_version" ADD CONSTRAINT "metric_version_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "metric_version" ADD CONSTRAINT "metric_version_metric_id_metric_id_fk" FOREIGN KEY ("metric_id") REFERENCES "public"."metric"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edit" ADD CONSTRAINT "edit_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edit" ADD CONSTRAINT "edit_level_id_level_id_fk" FOREIGN KEY ("level_id") REFERENCES "public"."level"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exclusion" ADD CONSTRAINT "exclusion_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exclusion" ADD CONSTRAINT "exclusion_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exclusion" ADD CONSTRAINT "exclusion_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment" ADD CONSTRAINT "experiment_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment" ADD CONSTRAINT "experiment_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD CONSTRAINT "experiment_metric_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD CONSTRAINT "experiment_metric_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "experiment_metric" ADD CONSTRAINT "experiment_metric_metric_version_id_metric_version_id_fk" FOREIGN KEY ("metric_version_id") REFERENCES "public"."metric_version"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "factor" ADD CONSTRAINT "factor_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "factor" ADD CONSTRAINT "factor_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "level" ADD CONSTRAINT "level_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "level" ADD CONSTRAINT "level_factor_id_factor_id_fk" FOREIGN KEY ("factor_id") REFERENCES "public"."factor"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "variant" ADD CONSTRAINT "variant_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "variant" ADD CONSTRAINT "variant_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "account_session_person" ON "account_session" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "person_email" ON "person" USING btree (lower("email"));--> statement-breakpoint
CREATE INDEX "change_log_subject" ON "change_log" USING btree ("site_id","subject","subject_id","id");--> statement-breakpoint
CREATE INDEX "metric_site" ON "metric" USING btree ("site_id");--> statement-breakpoint
CREATE UNIQUE INDEX "metric_version_number" ON "metric_version" USING btree ("metric_id","version");--> statement-breakpoint
CREATE INDEX "exclusion_experiment" ON "exclusion" USING btree ("experiment_id");--> statement-breakpoint
CREATE UNIQUE INDEX "exclusion_team" ON "exclusion" USING btree ("experiment_id","kind") WHERE kind = 'team';--> statement-breakpoint
CREATE INDEX "experiment_site" ON "experiment" USING btree ("site_id","state");--> statement-breakpoint
CREATE INDEX "experiment_metric_version" ON "experiment_metric" USING btree ("metric_version_id");--> statement-breakpoint
CREATE INDEX "factor_experiment" ON "factor" USING btree ("experiment_id");--> statement-breakpoint
CREATE INDEX "level_factor" ON "level" USING btree ("factor_id");--> statement-breakpoint
CREATE INDEX "variant_experiment" ON "variant" USING btree ("experiment_id","position");--> statement-breakpoint
CREATE INDEX "event_arrival" ON "event" USING btree ("site_id","seq");--> statement-breakpoint
CREATE INDEX "event_time" ON "event" USING btree ("site_id","type","occurred_at");--> statement-breakpoint
CREATE INDEX "event_order" ON "event" USING btree ("site_id","visitor_id","once") WHERE once IS NOT NULL;--> statement-breakpoint
CREATE INDEX "page_view_arrival" ON "page_view" USING btree ("site_id","seq");--> statement-breakpoint
CREATE INDEX "page_view_time" ON "page_view" USING btree ("site_id","occurred_at");--> statement-breakpoint
CREATE INDEX "session_time" ON "session" USING btree ("site_id","started_at");--> statement-breakpoint
CREATE INDEX "background_job_site" ON "background_job" USING btree ("site_id","id");--> statement-breakpoint
CREATE INDEX "exposure_experiment" ON "exposure" USING btree ("site_id","experiment_id","visitor_id");--> statement-breakpoint
CREATE INDEX "exposure_left_out" ON "exposure" USING btree ("site_id","experiment_id") WHERE left_out IS NOT NULL;--> statement-breakpoint
CREATE INDEX "visitor_value_experiment" ON "visitor_value" USING btree ("site_id","experiment_id");