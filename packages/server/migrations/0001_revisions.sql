CREATE TABLE `design_revisions` (
	`design_id` text NOT NULL,
	`revision` integer NOT NULL,
	`name` text NOT NULL,
	`document` text NOT NULL,
	`saved_at` integer NOT NULL,
	PRIMARY KEY(`design_id`, `revision`),
	FOREIGN KEY (`design_id`) REFERENCES `designs`(`id`) ON UPDATE no action ON DELETE no action
);
