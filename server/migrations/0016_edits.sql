CREATE TABLE "edits" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"tether_id" uuid NOT NULL,
	"row" integer NOT NULL,
	"column" integer NOT NULL,
	"value" jsonb NOT NULL,
	"agreed" jsonb NOT NULL,
	"is_gone" boolean DEFAULT false NOT NULL,
	"is_over_formula" boolean DEFAULT false NOT NULL,
	"person_id" uuid,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "tethers" DROP CONSTRAINT "tethers_standing";--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "unlocked" jsonb;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "shown" text;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "edit_count" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "edits" ADD CONSTRAINT "edits_tether_id_tethers_id_fk" FOREIGN KEY ("tether_id") REFERENCES "public"."tethers"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "edits" ADD CONSTRAINT "edits_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "edits_tether_id_index" ON "edits" USING btree ("tether_id");--> statement-breakpoint
CREATE UNIQUE INDEX "edits_cell" ON "edits" USING btree ("tether_id","row","column") WHERE not "edits"."is_gone";--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_shown_snapshots_hash_fk" FOREIGN KEY ("shown") REFERENCES "public"."snapshots"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "tethers_shown_index" ON "tethers" USING btree ("shown");--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_standing" CHECK ("tethers"."standing" in ('in step', 'behind', 'edited here', 'contested', 'adrift', 'frozen'));