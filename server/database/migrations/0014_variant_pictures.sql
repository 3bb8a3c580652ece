CREATE TABLE "variant_picture" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "variant_picture_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"experiment_id" integer NOT NULL,
	"variant_id" text NOT NULL,
	"path" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"language" text NOT NULL,
	"digest" text NOT NULL,
	"problems" jsonb NOT NULL,
	"content" "bytea" NOT NULL,
	"taken_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "background_job" ADD COLUMN "kind" text DEFAULT 'refold' NOT NULL;--> statement-breakpoint
ALTER TABLE "variant_picture" ADD CONSTRAINT "variant_picture_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "variant_picture" ADD CONSTRAINT "variant_picture_experiment_id_experiment_id_fk" FOREIGN KEY ("experiment_id") REFERENCES "public"."experiment"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "variant_picture_place" ON "variant_picture" USING btree ("experiment_id","variant_id","path","width");