-- A simulated printer obeys physics and hides its truth; what it printed can be read again from what is kept here.

ALTER TABLE printer ADD COLUMN simulated INTEGER NOT NULL DEFAULT 0 CHECK (simulated IN (0, 1));

ALTER TABLE job ADD COLUMN input TEXT CHECK (input IS NULL OR json_valid(input));

CREATE TABLE virtual_print (
  print_id TEXT PRIMARY KEY REFERENCES print (id),
  seed INTEGER NOT NULL,
  hidden TEXT NOT NULL CHECK (json_valid(hidden)),
  printed_at TEXT NOT NULL
) STRICT;
