CREATE TABLE "letter" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "letter_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"person_id" integer NOT NULL,
	"subject" text NOT NULL,
	"text" text NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"attempts" smallint DEFAULT 0 NOT NULL,
	"next_try_at" timestamp with time zone,
	"sent_at" timestamp with time zone,
	"problem" text
);
--> statement-breakpoint
CREATE TABLE "letter_times" (
	"person_id" integer PRIMARY KEY NOT NULL,
	"time_zone" text,
	"quiet_from" smallint DEFAULT 1200 NOT NULL,
	"quiet_until" smallint DEFAULT 420 NOT NULL,
	"morning_at" smallint DEFAULT 480 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "notification" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "notification_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"occurrence_id" integer NOT NULL,
	"person_id" integer NOT NULL,
	"way" text NOT NULL,
	"seen_at" timestamp with time zone,
	"due_at" timestamp with time zone,
	"letter_id" integer,
	CONSTRAINT "notification_once" UNIQUE("occurrence_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "notification_choice" (
	"person_id" integer NOT NULL,
	"site_id" integer,
	"experiment_id" integer,
	"kind" text NOT NULL,
	"way" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "occurrence" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "occurrence_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer,
	"kind" text NOT NULL,
	"cause" text,
	"title" text NOT NULL,
	"text" text NOT NULL,
	"path" text NOT NULL,
	"happened_at" timestamp with time zone NOT NULL,
	"by_person" integer,
	CONSTRAINT "occurrence_cause" UNIQUE("site_id","cause")
);
--> statement-breakpoint
CREATE TABLE "webhook" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "webhook_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"address" text NOT NULL,
	"secret" text NOT NULL,
	"kinds" text[] NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"paused_at" timestamp with time zone,
	"gave_up_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "webhook_delivery" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "webhook_delivery_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"webhook_id" integer NOT NULL,
	"kind" text NOT NULL,
	"body" text NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	"attempts" smallint DEFAULT 0 NOT NULL,
	"next_try_at" timestamp with time zone,
	"last_tried_at" timestamp with time zone,
	"delivered_at" timestamp with time zone,
	"status" smallint,
	"answer" text
);
--> statement-breakpoint
ALTER TABLE "letter" ADD CONSTRAINT "letter_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letter_times" ADD CONSTRAINT "letter_times_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification" ADD CONSTRAINT "notification_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification" ADD CONSTRAINT "notification_occurrence_id_occurrence_id_fk" FOREIGN KEY ("occurrence_id") REFERENCES "public"."occurrence"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification" ADD CONSTRAINT "notification_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification" ADD CONSTRAINT "notification_letter_id_letter_id_fk" FOREIGN KEY ("letter_id") REFERENCES "public"."letter"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification_choice" ADD CONSTRAINT "notification_choice_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification_choice" ADD CONSTRAINT "notification_choice_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notification_choice" ADD CONSTRAINT "notification_choice_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "occurrence" ADD CONSTRAINT "occurrence_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "occurrence" ADD CONSTRAINT "occurrence_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "occurrence" ADD CONSTRAINT "occurrence_by_person_person_id_fk" FOREIGN KEY ("by_person") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "webhook" ADD CONSTRAINT "webhook_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "webhook" ADD CONSTRAINT "webhook_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "webhook_delivery" ADD CONSTRAINT "webhook_delivery_webhook_id_webhook_id_fk" FOREIGN KEY ("webhook_id") REFERENCES "public"."webhook"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "letter_next" ON "letter" USING btree ("next_try_at") WHERE "letter"."next_try_at" is not null;--> statement-breakpoint
CREATE INDEX "letter_person" ON "letter" USING btree ("person_id","created_at");--> statement-breakpoint
CREATE INDEX "notification_person" ON "notification" USING btree ("person_id","site_id","id");--> statement-breakpoint
CREATE INDEX "notification_letter" ON "notification" USING btree ("letter_id");--> statement-breakpoint
CREATE INDEX "notification_due" ON "notification" USING btree ("due_at") WHERE "notification"."letter_id" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "notification_choice_once" ON "notification_choice" USING btree ("person_id",coalesce(experiment_id, 0),"kind");--> statement-breakpoint
CREATE INDEX "occurrence_time" ON "occurrence" USING btree ("happened_at");--> statement-breakpoint
CREATE INDEX "webhook_site" ON "webhook" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "webhook_delivery_next" ON "webhook_delivery" USING btree ("next_try_at") WHERE "webhook_delivery"."next_try_at" is not null;--> statement-breakpoint
CREATE INDEX "webhook_delivery_webhook" ON "webhook_delivery" USING btree ("site_id","webhook_id","id");