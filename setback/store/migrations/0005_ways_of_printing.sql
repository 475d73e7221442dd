-- A ladder may share a plate, or be a dose strip; ranges come from more sources; more is read off a coupon, also blind.

ALTER TABLE print ADD COLUMN way TEXT NOT NULL DEFAULT 'separate' CHECK (way IN ('separate', 'plate', 'strip'));
-- Light at the coupon's place relative to where coupons stand; NULL where no map told it.
ALTER TABLE coupon ADD COLUMN dose_ratio REAL CHECK (dose_ratio > 0);

CREATE TABLE calibration_new (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  bottle_id TEXT REFERENCES bottle (id),
  finish_route_version_id TEXT REFERENCES finish_route_version (id),
  layer_height_um REAL NOT NULL CHECK (layer_height_um BETWEEN 5 AND 200),
  source TEXT NOT NULL CHECK (source IN ('maker', 'borrowed', 'own guess', 'light meter', 'reference resin', 'dose strip',
    'working curve', 'prediction')),
  low_s REAL NOT NULL CHECK (low_s > 0),
  high_s REAL NOT NULL CHECK (high_s >= low_s),
  limits TEXT NOT NULL CHECK (json_valid(limits)),
  guard_band_pct REAL NOT NULL DEFAULT 5 CHECK (guard_band_pct BETWEEN 0 AND 100),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT REFERENCES technician (id),
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  opened_at TEXT NOT NULL,
  closed_at TEXT,
  closed_reason TEXT,
  irradiance_mw_cm2 REAL CHECK (irradiance_mw_cm2 > 0),
  min_overcure_um REAL CHECK (min_overcure_um >= 0),
  CHECK ((closed_at IS NULL) = (closed_reason IS NULL))
) STRICT;
INSERT INTO calibration_new SELECT id, code, material_id, printer_id, bottle_id, finish_route_version_id,
  layer_height_um, source, low_s, high_s, limits, guard_band_pct, note, technician_id, version, opened_at, closed_at,
  closed_reason, irradiance_mw_cm2, min_overcure_um FROM calibration;
DROP TABLE calibration;
ALTER TABLE calibration_new RENAME TO calibration;
CREATE INDEX calibration_pair ON calibration (material_id, printer_id, layer_height_um);
CREATE INDEX calibration_printer ON calibration (printer_id);
CREATE INDEX calibration_opened ON calibration (opened_at, id);

-- A vernier pair may overlap: its size is the drawn gap, below zero then.
CREATE TABLE reading_feature_new (
  reading_id TEXT NOT NULL REFERENCES reading (id),
  feature_key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('wall', 'slot', 'tip', 'outer', 'inner', 'z-gap', 'vernier', 'fit', 'legible')),
  side TEXT CHECK (side IN ('left', 'right')),
  axis TEXT CHECK (axis IN ('x', 'y')),
  size_mm REAL NOT NULL CHECK (size_mm > 0 OR kind = 'vernier'),
  state TEXT CHECK (state IN ('formed', 'partial', 'absent', 'lost')),
  measured_mm REAL CHECK (measured_mm >= 0),
  PRIMARY KEY (reading_id, feature_key),
  CHECK (state IS NOT NULL OR measured_mm IS NOT NULL)
) STRICT, WITHOUT ROWID;
INSERT INTO reading_feature_new SELECT reading_id, feature_key, kind, side, axis, size_mm, state, measured_mm
  FROM reading_feature;
DROP TABLE reading_feature;
ALTER TABLE reading_feature_new RENAME TO reading_feature;
CREATE TRIGGER reading_feature_kept BEFORE UPDATE ON reading_feature BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER reading_feature_stays BEFORE DELETE ON reading_feature BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;

-- A second person's reading of the same coupon, made without seeing the first.
CREATE TABLE blind_reading (
  id TEXT PRIMARY KEY,
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  asked_by TEXT NOT NULL REFERENCES technician (id),
  asked_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  read_at TEXT,
  features TEXT CHECK (features IS NULL OR json_valid(features)),
  note TEXT NOT NULL DEFAULT '',
  withdrawn_at TEXT,
  CHECK ((read_at IS NULL) = (features IS NULL) AND (read_at IS NULL) = (technician_id IS NULL))
) STRICT;
CREATE INDEX blind_reading_coupon ON blind_reading (coupon_id);
CREATE INDEX blind_reading_open ON blind_reading (read_at, withdrawn_at);
CREATE TRIGGER blind_reading_kept BEFORE UPDATE ON blind_reading WHEN OLD.read_at IS NOT NULL
  AND (NEW.features IS NOT OLD.features OR NEW.technician_id IS NOT OLD.technician_id)
  BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER blind_reading_stays BEFORE DELETE ON blind_reading BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;
