ALTER TABLE "sources" ADD COLUMN "headings" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "sources" ADD COLUMN "reading" jsonb;