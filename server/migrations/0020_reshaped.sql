ALTER TABLE "tethers" DROP CONSTRAINT "tethers_standing";--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "reshaped" jsonb;--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "stays_hash" text;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_standing" CHECK ("tethers"."standing" in ('in step', 'behind', 'edited here', 'contested', 'reshaped', 'adrift', 'frozen'));