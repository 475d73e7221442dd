"""Settings of a print, its time, the printer's steps, and values that look like a slip."""
