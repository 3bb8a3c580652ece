CREATE TABLE "alarm" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "alarm_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer,
	"check" text NOT NULL,
	"cause" text NOT NULL,
	"text" text NOT NULL,
	"opened_at" timestamp with time zone NOT NULL,
	"last_seen_at" timestamp with time zone NOT NULL,
	"closed_at" timestamp with time zone,
	"acknowledged_at" timestamp with time zone,
	"acknowledged_by" integer,
	"word" text
);
--> statement-breakpoint
CREATE TABLE "watched_hour" (
	"site_id" integer NOT NULL,
	"experiment_id" integer DEFAULT 0 NOT NULL,
	"hour" timestamp with time zone NOT NULL,
	"counts" jsonb NOT NULL,
	CONSTRAINT "watched_hour_site_id_experiment_id_hour_pk" PRIMARY KEY("site_id","experiment_id","hour")
);
--> statement-breakpoint
ALTER TABLE "drift_check" ADD COLUMN "with_line" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "alarm" ADD CONSTRAINT "alarm_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "alarm" ADD CONSTRAINT "alarm_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "alarm" ADD CONSTRAINT "alarm_acknowledged_by_person_id_fk" FOREIGN KEY ("acknowledged_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "alarm_open" ON "alarm" USING btree ("site_id",coalesce(experiment_id, 0),"check","cause") WHERE "alarm"."closed_at" is null;--> statement-breakpoint
CREATE INDEX "alarm_time" ON "alarm" USING btree ("site_id","opened_at");--> statement-breakpoint
CREATE INDEX "alarm_experiment" ON "alarm" USING btree ("site_id","experiment_id");