ALTER TABLE "log_entries" ADD COLUMN "act" uuid;--> statement-breakpoint
CREATE INDEX "log_entries_act_index" ON "log_entries" USING btree ("act");