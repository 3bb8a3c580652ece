CREATE EXTENSION IF NOT EXISTS pg_trgm;
--> statement-breakpoint
CREATE TABLE "hypothesis" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "hypothesis_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"title" text NOT NULL,
	"change" text DEFAULT '' NOT NULL,
	"pages" text,
	"audience" text,
	"metric_id" text,
	"direction" "direction" DEFAULT 'up' NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"statement" text,
	"low" double precision,
	"likely" double precision,
	"high" double precision,
	"effort_days" double precision,
	"strength" text DEFAULT 'fair' NOT NULL,
	"tags" text[] DEFAULT '{}'::text[] NOT NULL,
	"scores" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"owner_id" integer,
	"stage" text DEFAULT 'new' NOT NULL,
	"stage_reason" text,
	"hand_place" integer,
	"hand_reason" text,
	"version" integer DEFAULT 1 NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "hypothesis_comment" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "hypothesis_comment_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"hypothesis_id" integer NOT NULL,
	"person_id" integer,
	"words" text NOT NULL,
	"mentions" integer[] DEFAULT '{}'::int[] NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "hypothesis_finding" (
	"site_id" integer NOT NULL,
	"hypothesis_id" integer NOT NULL,
	"finding_id" integer NOT NULL,
	CONSTRAINT "hypothesis_finding_hypothesis_id_finding_id_pk" PRIMARY KEY("hypothesis_id","finding_id")
);
--> statement-breakpoint
CREATE TABLE "idea_traffic" (
	"site_id" integer NOT NULL,
	"pages" text NOT NULL,
	"audience" text NOT NULL,
	"metric_id" text NOT NULL,
	"figures" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "idea_traffic_site_id_pages_audience_metric_id_pk" PRIMARY KEY("site_id","pages","audience","metric_id")
);
--> statement-breakpoint
CREATE TABLE "ranking_terms" (
	"site_id" integer PRIMARY KEY NOT NULL,
	"terms" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "attachment" ALTER COLUMN "finding_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "experiment" ADD COLUMN "hypothesis_id" integer;--> statement-breakpoint
ALTER TABLE "attachment" ADD COLUMN "hypothesis_id" integer;--> statement-breakpoint
ALTER TABLE "hypothesis" ADD CONSTRAINT "hypothesis_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis" ADD CONSTRAINT "hypothesis_metric_id_metric_id_fk" FOREIGN KEY ("metric_id") REFERENCES "public"."metric"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis" ADD CONSTRAINT "hypothesis_owner_id_person_id_fk" FOREIGN KEY ("owner_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis" ADD CONSTRAINT "hypothesis_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis_comment" ADD CONSTRAINT "hypothesis_comment_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis_comment" ADD CONSTRAINT "hypothesis_comment_hypothesis_id_hypothesis_id_fk" FOREIGN KEY ("hypothesis_id") REFERENCES "public"."hypothesis"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis_comment" ADD CONSTRAINT "hypothesis_comment_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis_finding" ADD CONSTRAINT "hypothesis_finding_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis_finding" ADD CONSTRAINT "hypothesis_finding_hypothesis_id_hypothesis_id_fk" FOREIGN KEY ("hypothesis_id") REFERENCES "public"."hypothesis"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hypothesis_finding" ADD CONSTRAINT "hypothesis_finding_finding_id_finding_id_fk" FOREIGN KEY ("finding_id") REFERENCES "public"."finding"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "idea_traffic" ADD CONSTRAINT "idea_traffic_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "idea_traffic" ADD CONSTRAINT "idea_traffic_metric_id_metric_id_fk" FOREIGN KEY ("metric_id") REFERENCES "public"."metric"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ranking_terms" ADD CONSTRAINT "ranking_terms_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "hypothesis_site" ON "hypothesis" USING btree ("site_id","id");--> statement-breakpoint
CREATE INDEX "hypothesis_words" ON "hypothesis" USING gin (to_tsvector('english', "title" || ' ' || "change" || ' ' || "reason"));--> statement-breakpoint
CREATE INDEX "hypothesis_comment_of" ON "hypothesis_comment" USING btree ("site_id","hypothesis_id");--> statement-breakpoint
CREATE INDEX "hypothesis_finding_finding" ON "hypothesis_finding" USING btree ("site_id","finding_id");--> statement-breakpoint
ALTER TABLE "attachment" ADD CONSTRAINT "attachment_hypothesis_id_hypothesis_id_fk" FOREIGN KEY ("hypothesis_id") REFERENCES "public"."hypothesis"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "experiment_hypothesis" ON "experiment" USING btree ("site_id","hypothesis_id");--> statement-breakpoint
CREATE INDEX "attachment_hypothesis" ON "attachment" USING btree ("site_id","hypothesis_id");
--> statement-breakpoint
CREATE INDEX "hypothesis_title" ON "hypothesis" USING gin ("title" gin_trgm_ops);
