CREATE TABLE "moorings" (
	"source_id" uuid NOT NULL,
	"name" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "moorings_source_id_name_pk" PRIMARY KEY("source_id","name")
);
--> statement-breakpoint
ALTER TABLE "source_prints" ADD COLUMN "sheets" "bytea";--> statement-breakpoint
ALTER TABLE "moorings" ADD CONSTRAINT "moorings_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE "sources" SET "noted_hash" = NULL WHERE "state" = 'present';
