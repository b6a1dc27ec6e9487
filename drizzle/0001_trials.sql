CREATE TABLE "trials" (
	"id" text PRIMARY KEY NOT NULL,
	"specimen_id" text NOT NULL,
	"page" text NOT NULL,
	"name" text NOT NULL,
	"edits" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "trials" ADD CONSTRAINT "trials_specimen_id_specimens_id_fk" FOREIGN KEY ("specimen_id") REFERENCES "public"."specimens"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "trials_specimen" ON "trials" USING btree ("specimen_id");