-- Results of tests from before, as a table had them: shown as imported, never evidence of a set.
CREATE TABLE earlier_result (
  id TEXT PRIMARY KEY,
  material_id TEXT NOT NULL REFERENCES material (id),
  property TEXT NOT NULL,
  value REAL NOT NULL,
  n INTEGER NOT NULL DEFAULT 1 CHECK (n >= 1),
  sd REAL CHECK (sd >= 0),
  measured_on TEXT,
  note TEXT NOT NULL DEFAULT '',
  earlier_table_id TEXT NOT NULL REFERENCES earlier_table (id),
  table_row INTEGER NOT NULL CHECK (table_row >= 1),
  withdrawn_at TEXT
) STRICT;
CREATE INDEX earlier_result_of ON earlier_result (material_id) WHERE withdrawn_at IS NULL;
CREATE TRIGGER earlier_result_stays BEFORE DELETE ON earlier_result BEGIN SELECT RAISE(ABORT, 'results are withdrawn, never deleted'); END;
