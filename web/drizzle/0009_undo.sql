CREATE TABLE "import_images" (
	"import_id" uuid NOT NULL,
	"table" text NOT NULL,
	"key" jsonb NOT NULL,
	"before" jsonb,
	CONSTRAINT "import_images_import_id_table_key_pk" PRIMARY KEY("import_id","table","key")
);
--> statement-breakpoint
ALTER TABLE "contract_terms" ADD COLUMN "session_close" text DEFAULT '17:30' NOT NULL;--> statement-breakpoint
ALTER TABLE "daily_bars" ADD COLUMN "import_id" uuid;--> statement-breakpoint
ALTER TABLE "dividends" ADD COLUMN "import_id" uuid;--> statement-breakpoint
ALTER TABLE "events" ADD COLUMN "import_id" uuid;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "left_out" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "undo" text DEFAULT 'never' NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "image_bytes" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "rate_curves" ADD COLUMN "import_id" uuid;--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "quoted_in" text DEFAULT 'price' NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "price_source" text DEFAULT 'quote' NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "import_id" uuid;--> statement-breakpoint
ALTER TABLE "import_images" ADD CONSTRAINT "import_images_import_id_imports_id_fk" FOREIGN KEY ("import_id") REFERENCES "public"."imports"("id") ON DELETE cascade ON UPDATE no action;