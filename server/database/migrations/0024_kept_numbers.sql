CREATE TABLE "person_session" (
	"site_id" integer NOT NULL,
	"person_id" text NOT NULL,
	"visitor_id" text NOT NULL,
	"session_id" text NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone NOT NULL,
	"views" integer NOT NULL,
	CONSTRAINT "person_session_site_id_person_id_visitor_id_session_id_pk" PRIMARY KEY("site_id","person_id","visitor_id","session_id")
);
--> statement-breakpoint
CREATE TABLE "summary_due" (
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"times" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "summary_due_site_id_experiment_id_pk" PRIMARY KEY("site_id","experiment_id")
);
--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "raw_since" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "background_job" ADD COLUMN "added" integer[] DEFAULT '{}'::int[] NOT NULL;--> statement-breakpoint
ALTER TABLE "visitor_value" ADD COLUMN "amounts" jsonb;--> statement-breakpoint
CREATE INDEX "person_session_visitor" ON "person_session" USING btree ("site_id","visitor_id");--> statement-breakpoint
ALTER TABLE "look" DROP COLUMN "smallest_p_value";--> statement-breakpoint
-- What is known of persons' visits so far.
INSERT INTO "person_session" ("site_id", "person_id", "visitor_id", "session_id", "started_at", "ended_at", "views")
SELECT site_id, person_id, visitor_id, session_id, min(occurred_at), max(occurred_at), count(*)
FROM page_view WHERE person_id IS NOT NULL GROUP BY 1, 2, 3, 4;--> statement-breakpoint
-- Where visitors are older than the oldest page view, earlier ones have been deleted.
UPDATE "site" s SET "raw_since" = coalesce((SELECT min(v.occurred_at) FROM page_view v WHERE v.site_id = s.id), now())
WHERE EXISTS (
  SELECT 1 FROM visitor x WHERE x.site_id = s.id
    AND x.first_seen_at < coalesce((SELECT min(v.occurred_at) FROM page_view v WHERE v.site_id = s.id), now())
);
