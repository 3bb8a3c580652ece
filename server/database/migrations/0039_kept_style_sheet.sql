CREATE TABLE "kept_style_sheet" (
	"site_id" integer NOT NULL,
	"address" text NOT NULL,
	"digest" text NOT NULL,
	"content" text NOT NULL,
	"first_at" timestamp with time zone NOT NULL,
	"last_at" timestamp with time zone NOT NULL,
	CONSTRAINT "kept_style_sheet_site_id_address_digest_pk" PRIMARY KEY("site_id","address","digest")
);
