CREATE TABLE "origins" (
	"specimen_id" text PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"place" text NOT NULL,
	"options" jsonb DEFAULT '{}'::jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "writes" (
	"id" text PRIMARY KEY NOT NULL,
	"specimen_id" text NOT NULL,
	"files" jsonb NOT NULL,
	"written_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "origins" ADD CONSTRAINT "origins_specimen_id_specimens_id_fk" FOREIGN KEY ("specimen_id") REFERENCES "public"."specimens"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "writes" ADD CONSTRAINT "writes_specimen_id_specimens_id_fk" FOREIGN KEY ("specimen_id") REFERENCES "public"."specimens"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "writes_specimen" ON "writes" USING btree ("specimen_id");