CREATE TABLE "content_pieces" (
	"hash" text NOT NULL,
	"number" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "content_pieces_hash_number_pk" PRIMARY KEY("hash","number")
);
--> statement-breakpoint
CREATE TABLE "overlays" (
	"key" text PRIMARY KEY NOT NULL,
	"revision_key" text NOT NULL,
	"texts" jsonb NOT NULL,
	"underlay" text,
	"size" bigint NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
INSERT INTO "content_pieces" ("hash", "number", "bytes") SELECT "hash", 0, "bytes" FROM "blobs";--> statement-breakpoint
ALTER TABLE "files" DROP CONSTRAINT "files_hash_blobs_hash_fk";--> statement-breakpoint
DROP TABLE "blobs";--> statement-breakpoint
UPDATE "revisions" SET "number" = "counted"."number" FROM (SELECT "id", row_number() OVER (PARTITION BY "specimen_id" ORDER BY "number", "created_at", "id") AS "number" FROM "revisions") AS "counted" WHERE "counted"."id" = "revisions"."id";
--> statement-breakpoint
DROP INDEX "revisions_specimen";--> statement-breakpoint
ALTER TABLE "meants" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "specimens" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "trials" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "revisions_number" ON "revisions" USING btree ("specimen_id","number");