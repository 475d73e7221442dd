-- What a workshop brings along: tables it kept, and settings in use that no evidence here shows.

-- A table as it was opened or pasted, kept with what was taken from it.
CREATE TABLE earlier_table (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 200),
  content BLOB NOT NULL CHECK (length(content) BETWEEN 1 AND 8000000),
  sha256 TEXT NOT NULL CHECK (length(sha256) = 64),
  technician_id TEXT REFERENCES technician (id),
  received_at TEXT NOT NULL,
  -- What its rows are, how its columns were matched and how many rows were taken; NULL until then.
  kind TEXT CHECK (kind IN ('settings', 'results', 'prints', 'pours', 'temperatures')),
  matching TEXT CHECK (matching IS NULL OR json_valid(matching)),
  rows_taken INTEGER CHECK (rows_taken >= 0),
  rows_left INTEGER CHECK (rows_left >= 0),
  taken_at TEXT,
  withdrawn_at TEXT,
  CHECK ((taken_at IS NULL) = (kind IS NULL)),
  CHECK ((taken_at IS NULL) = (matching IS NULL))
) STRICT;

-- Settings in use, not shown. A change is a new version; nothing is written over.
CREATE TABLE provisional_set (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL,
  version INTEGER NOT NULL CHECK (version >= 1),
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  layer_height_um REAL NOT NULL CHECK (layer_height_um BETWEEN 5 AND 200),
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  settings TEXT NOT NULL CHECK (json_valid(settings)),
  -- Names of the settings that were said; the others are the usual ones.
  stated TEXT NOT NULL CHECK (json_valid(stated)),
  tip_mm REAL CHECK (tip_mm > 0),
  finish_route_version_id TEXT REFERENCES finish_route_version (id),
  source TEXT NOT NULL CHECK (source IN ('maker', 'other workshop', 'own habit')),
  source_note TEXT NOT NULL DEFAULT '',
  in_use_since TEXT,
  note TEXT NOT NULL DEFAULT '',
  earlier_table_id TEXT REFERENCES earlier_table (id),
  table_row INTEGER CHECK (table_row >= 1),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  entered_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT,
  UNIQUE (code, version),
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL)),
  CHECK ((earlier_table_id IS NULL) = (table_row IS NULL))
) STRICT;
CREATE INDEX provisional_set_of ON provisional_set (material_id, printer_id, layer_height_um);
CREATE INDEX provisional_set_table ON provisional_set (earlier_table_id) WHERE earlier_table_id IS NOT NULL;
CREATE INDEX print_started_from ON print (started_from) WHERE started_from IS NOT NULL;
CREATE TRIGGER provisional_set_stays BEFORE DELETE ON provisional_set BEGIN SELECT RAISE(ABORT, 'settings are withdrawn, never deleted'); END;
