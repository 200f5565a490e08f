CREATE TABLE "source_marks" (
	"source_id" uuid PRIMARY KEY NOT NULL,
	"marks" integer[] NOT NULL
);
--> statement-breakpoint
ALTER TABLE "tethers" ADD COLUMN "behind_by" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "source_marks" ADD CONSTRAINT "source_marks_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "source_marks_marks_index" ON "source_marks" USING gin ("marks");