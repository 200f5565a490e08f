CREATE TABLE "saved_views" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"person_id" uuid NOT NULL,
	"name" text NOT NULL,
	"query" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tether_looks" (
	"person_id" uuid NOT NULL,
	"tether_id" uuid NOT NULL,
	"snapshot" text NOT NULL,
	CONSTRAINT "tether_looks_person_id_tether_id_pk" PRIMARY KEY("person_id","tether_id")
);
--> statement-breakpoint
CREATE TABLE "tether_states" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"tether_id" uuid NOT NULL,
	"snapshot" text NOT NULL,
	"reach" jsonb NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"person_id" uuid,
	"how" text NOT NULL,
	"refreshed_how" text DEFAULT 'by hand' NOT NULL,
	"summary" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "workers" (
	"id" uuid PRIMARY KEY NOT NULL,
	"host" text NOT NULL,
	"pid" integer NOT NULL,
	"kind" text NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL,
	"jobs" uuid[] DEFAULT '{}' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "documents" ADD COLUMN "mode" jsonb;--> statement-breakpoint
ALTER TABLE "documents" ADD COLUMN "share" integer DEFAULT 50 NOT NULL;--> statement-breakpoint
ALTER TABLE "documents" ADD COLUMN "held_since" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "documents" ADD COLUMN "held_by" uuid;--> statement-breakpoint
ALTER TABLE "log_entries" ADD COLUMN "source_id" uuid;--> statement-breakpoint
ALTER TABLE "log_entries" ADD COLUMN "undo" jsonb;--> statement-breakpoint
ALTER TABLE "log_entries" ADD COLUMN "taken_back_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "snapshots" ADD COLUMN "sheet" text;--> statement-breakpoint
ALTER TABLE "snapshots" ADD COLUMN "area" jsonb;--> statement-breakpoint
ALTER TABLE "snapshots" ADD COLUMN "packed" "bytea";--> statement-breakpoint
-- Marked as not compressed (first byte 0): what is stored anew is.
UPDATE "snapshots" SET "sheet" = "content" ->> 'sheet', "area" = ("content" -> 'area')::jsonb, "packed" = '\x00'::bytea || convert_to("content"::text, 'UTF8');--> statement-breakpoint
ALTER TABLE "snapshots" ALTER COLUMN "sheet" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "snapshots" ALTER COLUMN "area" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "snapshots" ALTER COLUMN "packed" SET NOT NULL;--> statement-breakpoint
-- Compressing once more would cost time and gain nothing.
ALTER TABLE "snapshots" ALTER COLUMN "packed" SET STORAGE EXTERNAL;--> statement-breakpoint
CREATE SEQUENCE "reading_numbers";--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "mode" jsonb;--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "stamp" text;--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "read_number" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "asked_number" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "refreshed_how" text DEFAULT 'by hand' NOT NULL;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "mode" jsonb;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "next_due" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "waits" jsonb;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "left_hash" text;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "left_by" uuid;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "left_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "pinned_to" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "frozen_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "frozen_by" uuid;--> statement-breakpoint
ALTER TABLE "saved_views" ADD CONSTRAINT "saved_views_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tether_looks" ADD CONSTRAINT "tether_looks_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tether_looks" ADD CONSTRAINT "tether_looks_tether_id_tethers_id_fk" FOREIGN KEY ("tether_id") REFERENCES "public"."tethers"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tether_looks" ADD CONSTRAINT "tether_looks_snapshot_snapshots_hash_fk" FOREIGN KEY ("snapshot") REFERENCES "public"."snapshots"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tether_states" ADD CONSTRAINT "tether_states_tether_id_tethers_id_fk" FOREIGN KEY ("tether_id") REFERENCES "public"."tethers"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tether_states" ADD CONSTRAINT "tether_states_snapshot_snapshots_hash_fk" FOREIGN KEY ("snapshot") REFERENCES "public"."snapshots"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tether_states" ADD CONSTRAINT "tether_states_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "tether_looks_snapshot_index" ON "tether_looks" USING btree ("snapshot");--> statement-breakpoint
CREATE INDEX "tether_states_tether_id_index" ON "tether_states" USING btree ("tether_id");--> statement-breakpoint
CREATE INDEX "tether_states_snapshot_index" ON "tether_states" USING btree ("snapshot");--> statement-breakpoint
ALTER TABLE "documents" ADD CONSTRAINT "documents_held_by_people_id_fk" FOREIGN KEY ("held_by") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log_entries" ADD CONSTRAINT "log_entries_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_left_by_people_id_fk" FOREIGN KEY ("left_by") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_frozen_by_people_id_fk" FOREIGN KEY ("frozen_by") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "log_entries_tether_id_index" ON "log_entries" USING btree ("tether_id");--> statement-breakpoint
CREATE INDEX "log_entries_source_id_index" ON "log_entries" USING btree ("source_id");--> statement-breakpoint
CREATE INDEX "log_entries_person_id_index" ON "log_entries" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "tethers_next_due_index" ON "tethers" USING btree ("next_due");--> statement-breakpoint
-- The history of objects that were there before begins with what they show.
INSERT INTO "tether_states" ("tether_id", "snapshot", "reach", "at", "person_id", "how", "summary")
SELECT "id", "base", "reach", "refreshed_at", "refreshed_by", 'refreshed', 'What it showed when its history began.' FROM "tethers";
