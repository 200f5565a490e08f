DELETE FROM "saved_views" a USING "saved_views" b WHERE a."person_id" = b."person_id" AND a."name" = b."name" AND a."id" < b."id";--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "danger" jsonb;--> statement-breakpoint
CREATE UNIQUE INDEX "people_sign_in_name" ON "people" USING btree (lower("sign_in_name"));--> statement-breakpoint
CREATE INDEX "tethers_base_index" ON "tethers" USING btree ("base");--> statement-breakpoint
CREATE INDEX "tethers_pending_index" ON "tethers" USING btree ("pending");--> statement-breakpoint
ALTER TABLE "saved_views" ADD CONSTRAINT "saved_views_personId_name_unique" UNIQUE("person_id","name");--> statement-breakpoint
ALTER TABLE "people" ADD CONSTRAINT "people_role" CHECK ("people"."role" in ('owner', 'editor', 'viewer'));--> statement-breakpoint
ALTER TABLE "source_folders" ADD CONSTRAINT "source_folders_state" CHECK ("source_folders"."state" in ('watched', 'offline'));--> statement-breakpoint
ALTER TABLE "sources" ADD CONSTRAINT "sources_state" CHECK ("sources"."state" in ('new', 'present', 'missing', 'unreadable'));--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_standing" CHECK ("tethers"."standing" in ('in step', 'behind', 'adrift', 'frozen'));--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_form" CHECK ("tethers"."form" in ('table', 'facsimile', 'chart', 'value', 'tag'));