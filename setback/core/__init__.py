"""Pure computation: no web, no database, no files. One module per subject."""
