-- The stages around range finding: depth of cure, first layer, plate maps; and timers that outlive a page.

ALTER TABLE calibration ADD COLUMN irradiance_mw_cm2 REAL CHECK (irradiance_mw_cm2 > 0);
-- Least cure beyond the layer that the parts need; NULL leaves the cure lane out.
ALTER TABLE calibration ADD COLUMN min_overcure_um REAL CHECK (min_overcure_um >= 0);

-- A square exposed straight onto the film, without the plate.
CREATE TABLE depth_square (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  planned_at TEXT NOT NULL,
  gone_at TEXT,
  gone_reason TEXT,
  CHECK ((gone_at IS NULL) = (gone_reason IS NULL))
) STRICT;
CREATE INDEX depth_square_calibration ON depth_square (calibration_id);

CREATE TABLE depth_reading (
  id TEXT PRIMARY KEY,
  square_id TEXT NOT NULL REFERENCES depth_square (id),
  thicknesses_mm TEXT NOT NULL CHECK (json_valid(thicknesses_mm)),
  temp_c REAL CHECK (temp_c BETWEEN -20 AND 80),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  read_at TEXT NOT NULL,
  supersedes_id TEXT UNIQUE REFERENCES depth_reading (id),
  reason TEXT,
  CHECK ((supersedes_id IS NULL) = (reason IS NULL))
) STRICT;
CREATE INDEX depth_reading_square ON depth_reading (square_id);
CREATE UNIQUE INDEX depth_reading_first ON depth_reading (square_id) WHERE supersedes_id IS NULL;

-- One try of the base exposure: how it gripped, how thick it came out, how far its foot flared.
CREATE TABLE base_try (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  base_exposure_s REAL NOT NULL CHECK (base_exposure_s > 0),
  rating INTEGER NOT NULL CHECK (rating BETWEEN 0 AND 4),
  thickness_mm REAL CHECK (thickness_mm > 0),
  foot_mm REAL CHECK (foot_mm > 0),
  above_mm REAL CHECK (above_mm > 0),
  checked TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(checked)),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  tried_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT,
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL)),
  CHECK ((foot_mm IS NULL) = (above_mm IS NULL))
) STRICT;
CREATE INDEX base_try_calibration ON base_try (calibration_id, tried_at);

-- Light over a plate; the newest map of a printer counts.
CREATE TABLE plate_map (
  id TEXT PRIMARY KEY,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  source TEXT NOT NULL CHECK (source IN ('light meter', 'grid coupon')),
  readings TEXT NOT NULL CHECK (json_valid(readings)),
  reference_row INTEGER,
  reference_column INTEGER,
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  measured_at TEXT NOT NULL,
  retired_at TEXT,
  CHECK ((reference_row IS NULL) = (reference_column IS NULL))
) STRICT;
CREATE INDEX plate_map_printer ON plate_map (printer_id, measured_at);

-- Known marks of screen and film, by place on the plate.
CREATE TABLE defect (
  id TEXT PRIMARY KEY,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  x_mm REAL NOT NULL CHECK (x_mm >= 0),
  y_mm REAL NOT NULL CHECK (y_mm >= 0),
  width_mm REAL NOT NULL CHECK (width_mm > 0),
  height_mm REAL NOT NULL CHECK (height_mm > 0),
  note TEXT NOT NULL CHECK (length(trim(note)) > 0),
  technician_id TEXT REFERENCES technician (id),
  seen_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE INDEX defect_printer ON defect (printer_id);

CREATE TABLE timer (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  seconds REAL NOT NULL CHECK (seconds > 0),
  started_at TEXT NOT NULL,
  due_at TEXT NOT NULL,
  place TEXT,
  technician_id TEXT REFERENCES technician (id),
  ended_at TEXT
) STRICT;
CREATE INDEX timer_running ON timer (ended_at, due_at);

CREATE TRIGGER depth_reading_kept BEFORE UPDATE ON depth_reading BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER depth_reading_stays BEFORE DELETE ON depth_reading BEGIN SELECT RAISE(ABORT, 'readings are never deleted'); END;
CREATE TRIGGER base_try_stays BEFORE DELETE ON base_try BEGIN SELECT RAISE(ABORT, 'tries are withdrawn, never deleted'); END;
CREATE TRIGGER plate_map_stays BEFORE DELETE ON plate_map BEGIN SELECT RAISE(ABORT, 'maps are retired, never deleted'); END;
