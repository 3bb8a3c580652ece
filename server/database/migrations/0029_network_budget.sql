-- After a crash it begins anew: nothing else hangs on it.
CREATE UNLOGGED TABLE "network_budget" (
	"key" text PRIMARY KEY NOT NULL,
	"left" double precision NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"first_at" timestamp with time zone NOT NULL
);
