CREATE TABLE "answer_tag" (
	"site_id" integer NOT NULL,
	"survey_id" integer NOT NULL,
	"question" text NOT NULL,
	"visitor_id" text NOT NULL,
	"session_id" text NOT NULL,
	"tag" text NOT NULL,
	"answered_at" timestamp with time zone NOT NULL,
	"created_by" integer,
	CONSTRAINT "answer_tag_site_id_survey_id_question_visitor_id_session_id_tag_pk" PRIMARY KEY("site_id","survey_id","question","visitor_id","session_id","tag")
);
--> statement-breakpoint
ALTER TABLE "answer_tag" ADD CONSTRAINT "answer_tag_survey_id_survey_id_fk" FOREIGN KEY ("survey_id") REFERENCES "public"."survey"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "answer_tag" ADD CONSTRAINT "answer_tag_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "answer_tag_visitor" ON "answer_tag" USING btree ("site_id","visitor_id");