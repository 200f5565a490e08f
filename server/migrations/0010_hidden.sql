UPDATE "tethers" SET "reach" = "reach" - 'hiddenRows' || '{"hidden":"in"}' WHERE "reach" ? 'hiddenRows';--> statement-breakpoint
UPDATE "tether_states" SET "reach" = "reach" - 'hiddenRows' || '{"hidden":"in"}' WHERE "reach" ? 'hiddenRows';--> statement-breakpoint
UPDATE "log_entries" SET "undo" = jsonb_set("undo", '{reach}', ("undo" -> 'reach') - 'hiddenRows' || '{"hidden":"in"}') WHERE "undo" -> 'reach' ? 'hiddenRows';
