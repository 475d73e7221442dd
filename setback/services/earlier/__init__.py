"""What a workshop brings along from before: settings in use, tables it kept, sets of other workshops."""
