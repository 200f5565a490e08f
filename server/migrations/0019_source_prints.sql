CREATE TABLE "source_prints" (
	"source_id" uuid PRIMARY KEY NOT NULL,
	"hash" text NOT NULL,
	"print" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "source_prints" ADD CONSTRAINT "source_prints_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "sources_hash_index" ON "sources" USING btree ("hash");--> statement-breakpoint
UPDATE "sources" SET "noted_hash" = NULL WHERE "state" = 'present';
