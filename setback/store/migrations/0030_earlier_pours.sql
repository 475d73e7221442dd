-- Pours from before, as a table had them: they move no bottle and no vat.
CREATE TABLE earlier_pour (
  id TEXT PRIMARY KEY,
  bottle_id TEXT NOT NULL REFERENCES bottle (id),
  printer_id TEXT REFERENCES printer (id),
  volume_ml REAL NOT NULL CHECK (volume_ml > 0),
  poured_at TEXT NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  earlier_table_id TEXT NOT NULL REFERENCES earlier_table (id),
  table_row INTEGER NOT NULL CHECK (table_row >= 1),
  withdrawn_at TEXT
) STRICT;
CREATE INDEX earlier_pour_of ON earlier_pour (bottle_id) WHERE withdrawn_at IS NULL;
CREATE TRIGGER earlier_pour_stays BEFORE DELETE ON earlier_pour BEGIN SELECT RAISE(ABORT, 'pours are withdrawn, never deleted'); END;
