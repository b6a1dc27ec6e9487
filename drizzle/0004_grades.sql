ALTER TABLE "meants" ADD COLUMN "grade" text DEFAULT 'meant' NOT NULL;--> statement-breakpoint
ALTER TABLE "meants" ADD COLUMN "rule" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "meants" ADD COLUMN "place" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "meants" ADD COLUMN "declaration" text DEFAULT '' NOT NULL;