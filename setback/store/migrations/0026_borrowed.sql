-- Sets of other workshops, as a source and never in the chain; and what a maker's sheet claims of a material.
CREATE TABLE borrowed_set (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  workshop TEXT NOT NULL CHECK (length(trim(workshop)) BETWEEN 1 AND 120),
  -- Their set as their file has it: code, names of material and printer, exposure, settings, window, band.
  theirs TEXT NOT NULL CHECK (json_valid(theirs)),
  file_sha256 TEXT NOT NULL CHECK (length(file_sha256) = 64),
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  layer_height_um REAL NOT NULL CHECK (layer_height_um BETWEEN 5 AND 200),
  -- Carried to the printer here, with its 80 % interval and what it was carried by.
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  low_s REAL NOT NULL CHECK (low_s > 0 AND low_s <= exposure_s),
  high_s REAL NOT NULL CHECK (high_s >= exposure_s),
  log_sd REAL NOT NULL CHECK (log_sd > 0),
  carried TEXT NOT NULL CHECK (json_valid(carried)),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  entered_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT,
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL))
) STRICT;
CREATE INDEX borrowed_set_of ON borrowed_set (material_id, printer_id, layer_height_um) WHERE withdrawn_at IS NULL;
CREATE TRIGGER borrowed_set_stays BEFORE DELETE ON borrowed_set BEGIN SELECT RAISE(ABORT, 'borrowed sets are withdrawn, never deleted'); END;

CREATE TABLE claim (
  id TEXT PRIMARY KEY,
  material_id TEXT NOT NULL REFERENCES material (id),
  property TEXT NOT NULL,
  low REAL NOT NULL,
  high REAL NOT NULL CHECK (high >= low),
  layer_height_um REAL CHECK (layer_height_um > 0),
  source TEXT NOT NULL CHECK (length(trim(source)) BETWEEN 1 AND 200),
  dated TEXT,
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  entered_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE INDEX claim_of ON claim (material_id) WHERE withdrawn_at IS NULL;
CREATE TRIGGER claim_stays BEFORE DELETE ON claim BEGIN SELECT RAISE(ABORT, 'claims are withdrawn, never deleted'); END;
