CREATE TABLE "meants" (
	"id" text PRIMARY KEY NOT NULL,
	"specimen_id" text NOT NULL,
	"page" text NOT NULL,
	"key" text NOT NULL,
	"reason" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "meants" ADD CONSTRAINT "meants_specimen_id_specimens_id_fk" FOREIGN KEY ("specimen_id") REFERENCES "public"."specimens"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "meants_of" ON "meants" USING btree ("specimen_id","page","key");