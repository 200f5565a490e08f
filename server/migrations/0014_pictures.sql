CREATE TABLE "pictures" (
	"hash" text PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
