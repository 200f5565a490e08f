CREATE TABLE "documents" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"content" jsonb NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	"saved_by" uuid
);
--> statement-breakpoint
CREATE TABLE "log_entries" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"kind" text NOT NULL,
	"person_id" uuid,
	"document_id" uuid,
	"tether_id" uuid,
	"tether_name" text,
	"source" text,
	"summary" text NOT NULL,
	"slip" jsonb
);
--> statement-breakpoint
CREATE TABLE "people" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"title" text NOT NULL,
	"sign_in_name" text NOT NULL,
	"password_hash" text NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "people_signInName_unique" UNIQUE("sign_in_name")
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"person_id" uuid NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "snapshots" (
	"hash" text PRIMARY KEY NOT NULL,
	"content" json NOT NULL
);
--> statement-breakpoint
CREATE TABLE "source_folders" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"root" text NOT NULL,
	"state" text DEFAULT 'watched' NOT NULL,
	CONSTRAINT "source_folders_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "sources" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"folder_id" uuid NOT NULL,
	"path" text NOT NULL,
	"state" text NOT NULL,
	"fault" jsonb,
	"hash" text,
	"bytes" bigint DEFAULT 0 NOT NULL,
	"sheets" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sources_folderId_path_unique" UNIQUE("folder_id","path")
);
--> statement-breakpoint
CREATE TABLE "tethers" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"document_id" uuid NOT NULL,
	"source_id" uuid NOT NULL,
	"name" text NOT NULL,
	"form" text DEFAULT 'table' NOT NULL,
	"reach" jsonb NOT NULL,
	"base" text NOT NULL,
	"pending" text,
	"standing" text DEFAULT 'in step' NOT NULL,
	"reason" jsonb,
	"summary" text,
	"placed" boolean DEFAULT false NOT NULL,
	"standing_since" timestamp with time zone DEFAULT now() NOT NULL,
	"refreshed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"refreshed_by" uuid
);
--> statement-breakpoint
ALTER TABLE "documents" ADD CONSTRAINT "documents_saved_by_people_id_fk" FOREIGN KEY ("saved_by") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log_entries" ADD CONSTRAINT "log_entries_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log_entries" ADD CONSTRAINT "log_entries_document_id_documents_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."documents"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log_entries" ADD CONSTRAINT "log_entries_tether_id_tethers_id_fk" FOREIGN KEY ("tether_id") REFERENCES "public"."tethers"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sources" ADD CONSTRAINT "sources_folder_id_source_folders_id_fk" FOREIGN KEY ("folder_id") REFERENCES "public"."source_folders"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_document_id_documents_id_fk" FOREIGN KEY ("document_id") REFERENCES "public"."documents"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_source_id_sources_id_fk" FOREIGN KEY ("source_id") REFERENCES "public"."sources"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_base_snapshots_hash_fk" FOREIGN KEY ("base") REFERENCES "public"."snapshots"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_pending_snapshots_hash_fk" FOREIGN KEY ("pending") REFERENCES "public"."snapshots"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tethers" ADD CONSTRAINT "tethers_refreshed_by_people_id_fk" FOREIGN KEY ("refreshed_by") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "log_entries_document_id_index" ON "log_entries" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "tethers_document_id_index" ON "tethers" USING btree ("document_id");--> statement-breakpoint
CREATE INDEX "tethers_source_id_index" ON "tethers" USING btree ("source_id");--> statement-breakpoint
CREATE INDEX "tethers_standing_index" ON "tethers" USING btree ("standing");