"""What a workshop brings along from before: tables it kept, settings in use, results, prints and temperatures."""
