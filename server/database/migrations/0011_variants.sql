CREATE TABLE "site_picture" (
	"site_id" integer NOT NULL,
	"digest" text NOT NULL,
	"type" text NOT NULL,
	"name" text NOT NULL,
	"content" "bytea" NOT NULL,
	"created_by" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "site_picture_site_id_digest_pk" PRIMARY KEY("site_id","digest")
);
--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "allows_scripts" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "site_picture" ADD CONSTRAINT "site_picture_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "site_picture" ADD CONSTRAINT "site_picture_created_by_person_id_fk" FOREIGN KEY ("created_by") REFERENCES "public"."person"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "site_picture_latest" ON "site_picture" USING btree ("site_id","created_at");