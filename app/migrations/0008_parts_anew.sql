-- Parts of fits under way hold preparations in their earlier form: the fits begin again.
delete from "fit_part";
