CREATE TABLE "blobs" (
	"hash" text PRIMARY KEY NOT NULL,
	"bytes" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "facts" (
	"name" text PRIMARY KEY NOT NULL,
	"value" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "files" (
	"revision_id" text NOT NULL,
	"path" text NOT NULL,
	"type" text NOT NULL,
	"size" integer NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "files_revision_id_path_pk" PRIMARY KEY("revision_id","path")
);
--> statement-breakpoint
CREATE TABLE "readings" (
	"id" text PRIMARY KEY NOT NULL,
	"specimen_id" text NOT NULL,
	"revision_id" text NOT NULL,
	"page" text NOT NULL,
	"engine" text NOT NULL,
	"engine_version" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"scroll_width" integer NOT NULL,
	"scroll_height" integer NOT NULL,
	"defaults" text NOT NULL,
	"boxes" integer NOT NULL,
	"note" text NOT NULL,
	"pick" text NOT NULL,
	"taken_at" timestamp with time zone DEFAULT now() NOT NULL,
	"body" "bytea" NOT NULL
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"id" text PRIMARY KEY NOT NULL,
	"specimen_id" text NOT NULL,
	"number" integer NOT NULL,
	"key" text NOT NULL,
	"entry" text NOT NULL,
	"pages" jsonb NOT NULL,
	"missing" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "revisions_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "specimens" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"scripts" text DEFAULT 'hold' NOT NULL,
	"demo" boolean DEFAULT false NOT NULL,
	"drawing" jsonb,
	"measured_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "files" ADD CONSTRAINT "files_revision_id_revisions_id_fk" FOREIGN KEY ("revision_id") REFERENCES "public"."revisions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "files" ADD CONSTRAINT "files_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "readings" ADD CONSTRAINT "readings_specimen_id_specimens_id_fk" FOREIGN KEY ("specimen_id") REFERENCES "public"."specimens"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "readings" ADD CONSTRAINT "readings_revision_id_revisions_id_fk" FOREIGN KEY ("revision_id") REFERENCES "public"."revisions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_specimen_id_specimens_id_fk" FOREIGN KEY ("specimen_id") REFERENCES "public"."specimens"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "readings_specimen" ON "readings" USING btree ("specimen_id");--> statement-breakpoint
CREATE INDEX "revisions_specimen" ON "revisions" USING btree ("specimen_id");