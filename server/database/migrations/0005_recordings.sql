CREATE TABLE "recording" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"session_id" text NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone NOT NULL,
	"chunks" integer NOT NULL,
	"bytes" bigint NOT NULL,
	"received_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "recording_site_id_visitor_id_session_id_pk" PRIMARY KEY("site_id","visitor_id","session_id")
);
--> statement-breakpoint
CREATE TABLE "recording_chunk" (
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"session_id" text NOT NULL,
	"id" uuid NOT NULL,
	"view_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "recording_chunk_site_id_visitor_id_session_id_id_pk" PRIMARY KEY("site_id","visitor_id","session_id","id")
);
--> statement-breakpoint
CREATE TABLE "recording_note" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recording_note_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"visitor_id" text NOT NULL,
	"session_id" text NOT NULL,
	"moment" integer NOT NULL,
	"words" text NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "site" ALTER COLUMN "collection" SET DEFAULT '{"behavior": {"share": 0, "pages": [{"match": "begins", "value": "/"}]}, "recording": {"share": 0, "pages": [{"match": "begins", "value": "/"}], "masksText": false, "days": 30, "megabytes": 2000}}'::jsonb;--> statement-breakpoint
ALTER TABLE "recording_note" ADD CONSTRAINT "recording_note_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "recording_time" ON "recording" USING btree ("site_id","started_at");--> statement-breakpoint
CREATE INDEX "recording_note_session" ON "recording_note" USING btree ("site_id","visitor_id","session_id");--> statement-breakpoint
UPDATE "site" SET "collection" = '{"recording": {"share": 0, "pages": [{"match": "begins", "value": "/"}], "masksText": false, "days": 30, "megabytes": 2000}}'::jsonb || "collection";
