CREATE TABLE "running_process" (
	"name" text PRIMARY KEY NOT NULL,
	"role" text NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"seen_at" timestamp with time zone NOT NULL,
	"delay" double precision NOT NULL,
	"work" double precision
);
