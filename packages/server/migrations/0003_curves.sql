CREATE TABLE `kept_curves` (
	`id` text PRIMARY KEY NOT NULL,
	`project_id` text NOT NULL,
	`name` text NOT NULL,
	`facts` text NOT NULL,
	`packed` blob NOT NULL,
	`saved_at` integer NOT NULL,
	FOREIGN KEY (`project_id`) REFERENCES `projects`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `kept_curves_by_project` ON `kept_curves` (`project_id`);