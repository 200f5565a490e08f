CREATE TABLE "document_updates" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"document_id" uuid NOT NULL,
	"person_id" uuid,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"update" "bytea" NOT NULL,
	"is_written_out" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
ALTER TABLE "document_updates" ADD CONSTRAINT "document_updates_document_id_documents_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."documents"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "document_updates" ADD CONSTRAINT "document_updates_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "document_updates_document_id_index" ON "document_updates" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "document_updates_not_written_out" ON "document_updates" USING btree ("document_id") WHERE not "document_updates"."is_written_out";