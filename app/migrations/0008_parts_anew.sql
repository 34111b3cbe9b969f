-- Parts of fits under way hold preparations in their earlier form: the fits begin again.
delete from "fit_part";
--> statement-breakpoint
-- The rates of an error table follow from its counts: a line of the table of candidates keeps those alone.
update "candidate" set "results" = "results" #- '{value,rates}';
