-- Evidence is superseded, never edited; issued sets are append-only. Triggers below hold both.

CREATE TABLE technician (
  id TEXT PRIMARY KEY,
  initials TEXT NOT NULL UNIQUE CHECK (length(initials) BETWEEN 1 AND 4 AND initials = upper(initials)),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;

-- Last number given out per kind of code; codes are never used again.
CREATE TABLE code_counter (
  prefix TEXT PRIMARY KEY,
  last INTEGER NOT NULL CHECK (last >= 0)
) STRICT;

-- Everything that is calibrated or tested points to a material.
CREATE TABLE material (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('resin', 'blend', 'reference')),
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE UNIQUE INDEX material_name ON material (name COLLATE NOCASE) WHERE retired_at IS NULL;
CREATE INDEX material_live ON material (retired_at, name COLLATE NOCASE);

CREATE TABLE resin (
  material_id TEXT PRIMARY KEY REFERENCES material (id),
  maker TEXT NOT NULL,
  line TEXT,
  colour TEXT NOT NULL,
  family TEXT NOT NULL CHECK (family IN ('basic', 'ABS-like', 'tough', 'flexible', 'rigid', 'detail', 'fast', 'clear', 'castable')),
  opacity TEXT NOT NULL CHECK (opacity IN ('opaque', 'tinted', 'clear')),
  wash_class TEXT NOT NULL CHECK (wash_class IN ('solvent', 'water')),
  chemistry TEXT NOT NULL CHECK (chemistry IN ('acrylate', 'epoxy-hybrid', 'unknown')),
  maker_low_s REAL CHECK (maker_low_s > 0),
  maker_high_s REAL CHECK (maker_high_s >= maker_low_s),
  maker_temp_low_c REAL,
  maker_temp_high_c REAL CHECK (maker_temp_high_c >= maker_temp_low_c),
  density_g_ml REAL CHECK (density_g_ml > 0),
  price_per_l REAL CHECK (price_per_l >= 0),
  heat_capacity_j_g_k REAL CHECK (heat_capacity_j_g_k > 0),
  safety_sheet_url TEXT
) STRICT;

CREATE TABLE bottle (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  material_id TEXT NOT NULL REFERENCES material (id),
  lot TEXT NOT NULL,
  received_on TEXT,
  opened_on TEXT,
  best_before TEXT,
  volume_ml REAL NOT NULL CHECK (volume_ml > 0),
  left_ml REAL NOT NULL CHECK (left_ml >= 0 AND left_ml <= volume_ml),
  last_shaken_at TEXT,
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE INDEX bottle_material ON bottle (material_id);
CREATE INDEX bottle_live ON bottle (retired_at, code);

CREATE TABLE printer (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  light_engine TEXT NOT NULL CHECK (light_engine IN ('mono screen', 'colour screen', 'projector', 'laser')),
  light_power_adjustable INTEGER NOT NULL CHECK (light_power_adjustable IN (0, 1)),
  pixel_um REAL NOT NULL CHECK (pixel_um > 0),
  plate_x_mm REAL NOT NULL CHECK (plate_x_mm > 0),
  plate_y_mm REAL NOT NULL CHECK (plate_y_mm > 0),
  vat_capacity_ml REAL NOT NULL CHECK (vat_capacity_ml > 0),
  fill_line_ml REAL NOT NULL CHECK (fill_line_ml > 0 AND fill_line_ml <= vat_capacity_ml),
  exposure_step_s REAL NOT NULL CHECK (exposure_step_s > 0),
  screen_hours REAL NOT NULL DEFAULT 0 CHECK (screen_hours >= 0),
  several_exposures INTEGER NOT NULL CHECK (several_exposures IN (0, 1)),
  suppresses_lift INTEGER NOT NULL CHECK (suppresses_lift IN (0, 1)),
  delay_includes_motion INTEGER NOT NULL CHECK (delay_includes_motion IN (0, 1)),
  note TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE UNIQUE INDEX printer_name ON printer (name COLLATE NOCASE) WHERE retired_at IS NULL;

CREATE TABLE finish_route (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE UNIQUE INDEX finish_route_name ON finish_route (name COLLATE NOCASE) WHERE retired_at IS NULL;

CREATE TABLE finish_route_version (
  id TEXT PRIMARY KEY,
  finish_route_id TEXT NOT NULL REFERENCES finish_route (id),
  version INTEGER NOT NULL CHECK (version >= 1),
  wash_fluid TEXT NOT NULL,
  wash_method TEXT NOT NULL,
  dirty_bath_min REAL NOT NULL CHECK (dirty_bath_min >= 0),
  clean_bath_min REAL NOT NULL CHECK (clean_bath_min >= 0),
  dry_min REAL NOT NULL CHECK (dry_min >= 0),
  air_min REAL NOT NULL CHECK (air_min >= 0),
  lamp TEXT NOT NULL,
  cure_min REAL NOT NULL CHECK (cure_min >= 0),
  cure_temp_c REAL CHECK (cure_temp_c BETWEEN 0 AND 120),
  supports_off TEXT NOT NULL CHECK (supports_off IN ('before cure', 'after cure')),
  created_at TEXT NOT NULL,
  UNIQUE (finish_route_id, version)
) STRICT;

CREATE TABLE calibration (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  bottle_id TEXT REFERENCES bottle (id),
  finish_route_version_id TEXT REFERENCES finish_route_version (id),
  layer_height_um REAL NOT NULL CHECK (layer_height_um BETWEEN 5 AND 200),
  source TEXT NOT NULL CHECK (source IN ('maker', 'borrowed', 'own guess')),
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
  CHECK ((closed_at IS NULL) = (closed_reason IS NULL))
) STRICT;
CREATE INDEX calibration_pair ON calibration (material_id, printer_id, layer_height_um);
CREATE INDEX calibration_printer ON calibration (printer_id);
CREATE INDEX calibration_opened ON calibration (opened_at, id);

-- Coupons of one arm share every setting except exposure; only they share a window.
CREATE TABLE arm (
  id TEXT PRIMARY KEY,
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  name TEXT NOT NULL,
  settings TEXT NOT NULL CHECK (json_valid(settings)),
  created_at TEXT NOT NULL,
  UNIQUE (calibration_id, number)
) STRICT;

CREATE TABLE print (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  arm_id TEXT REFERENCES arm (id),
  status TEXT NOT NULL CHECK (status IN ('planned', 'printed', 'cancelled')),
  planned_at TEXT NOT NULL,
  printed_at TEXT,
  temp_c REAL CHECK (temp_c BETWEEN -20 AND 80),
  temp_place TEXT CHECK (temp_place IN ('room', 'chamber air', 'resin')),
  volume_ml REAL NOT NULL CHECK (volume_ml >= 0),
  duration_s REAL NOT NULL CHECK (duration_s >= 0),
  technician_id TEXT REFERENCES technician (id),
  CHECK ((status = 'printed') = (printed_at IS NOT NULL))
) STRICT;
CREATE INDEX print_arm ON print (arm_id);
CREATE INDEX print_status ON print (status, planned_at);

CREATE TABLE plate (
  id TEXT PRIMARY KEY,
  print_id TEXT NOT NULL REFERENCES print (id),
  number INTEGER NOT NULL DEFAULT 1 CHECK (number >= 1),
  UNIQUE (print_id, number)
) STRICT;

-- Drawings are shared by all coupons made from the same parameters.
CREATE TABLE coupon_design (
  id TEXT PRIMARY KEY,
  kind TEXT NOT NULL,
  parameters TEXT NOT NULL CHECK (json_valid(parameters)),
  plan TEXT NOT NULL CHECK (json_valid(plan)),
  UNIQUE (kind, parameters)
) STRICT;

CREATE TABLE coupon (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  plate_id TEXT NOT NULL REFERENCES plate (id),
  arm_id TEXT NOT NULL REFERENCES arm (id),
  design_id TEXT NOT NULL REFERENCES coupon_design (id),
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  place_x_mm REAL,
  place_y_mm REAL,
  is_repeat INTEGER NOT NULL DEFAULT 0 CHECK (is_repeat IN (0, 1)),
  number INTEGER NOT NULL,
  created_at TEXT NOT NULL,
  gone_at TEXT,
  gone_reason TEXT,
  CHECK ((gone_at IS NULL) = (gone_reason IS NULL))
) STRICT;
CREATE INDEX coupon_arm ON coupon (arm_id, number);
CREATE INDEX coupon_plate ON coupon (plate_id);

CREATE TABLE reading (
  id TEXT PRIMARY KEY,
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  read_at TEXT NOT NULL,
  damaged INTEGER NOT NULL DEFAULT 0 CHECK (damaged IN (0, 1)),
  unwashed INTEGER NOT NULL DEFAULT 0 CHECK (unwashed IN (0, 1)),
  uncured INTEGER NOT NULL DEFAULT 0 CHECK (uncured IN (0, 1)),
  note TEXT NOT NULL DEFAULT '',
  withdrawn INTEGER NOT NULL DEFAULT 0 CHECK (withdrawn IN (0, 1)),
  supersedes_id TEXT UNIQUE REFERENCES reading (id),
  reason TEXT,
  CHECK ((supersedes_id IS NULL) = (reason IS NULL))
) STRICT;
CREATE INDEX reading_coupon ON reading (coupon_id);
CREATE UNIQUE INDEX reading_first ON reading (coupon_id) WHERE supersedes_id IS NULL;

CREATE TABLE reading_feature (
  reading_id TEXT NOT NULL REFERENCES reading (id),
  feature_key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('wall', 'slot', 'tip', 'outer', 'inner', 'z-gap')),
  side TEXT CHECK (side IN ('left', 'right')),
  axis TEXT CHECK (axis IN ('x', 'y')),
  size_mm REAL NOT NULL CHECK (size_mm > 0),
  state TEXT CHECK (state IN ('formed', 'partial', 'absent', 'lost')),
  measured_mm REAL CHECK (measured_mm >= 0),
  PRIMARY KEY (reading_id, feature_key),
  CHECK (state IS NOT NULL OR measured_mm IS NOT NULL)
) STRICT, WITHOUT ROWID;

-- What a person decided about a coupon over and above its reading; the latest counts.
CREATE TABLE judgement (
  id TEXT PRIMARY KEY,
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  include INTEGER NOT NULL CHECK (include IN (0, 1)),
  verdict TEXT CHECK (verdict IN ('under', 'ok', 'over', 'mixed')),
  reason TEXT NOT NULL CHECK (length(trim(reason)) > 0),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  judged_at TEXT NOT NULL,
  UNIQUE (coupon_id, number)
) STRICT;

CREATE TABLE photo (
  id TEXT PRIMARY KEY,
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  mime TEXT NOT NULL CHECK (mime IN ('image/jpeg', 'image/png', 'image/webp')),
  width_px INTEGER NOT NULL CHECK (width_px > 0),
  height_px INTEGER NOT NULL CHECK (height_px > 0),
  sha256 TEXT NOT NULL,
  image BLOB NOT NULL,
  taken_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  retired_at TEXT
) STRICT;
CREATE INDEX photo_coupon ON photo (coupon_id);

-- Append-only and chained: every hash covers the one before, so tampering shows.
CREATE TABLE parameter_set (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  chain INTEGER NOT NULL UNIQUE CHECK (chain >= 1),
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  layer_height_um REAL NOT NULL,
  version INTEGER NOT NULL CHECK (version >= 1),
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  arm_id TEXT NOT NULL REFERENCES arm (id),
  finish_route_version_id TEXT REFERENCES finish_route_version (id),
  bottle_id TEXT REFERENCES bottle (id),
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  policy TEXT NOT NULL,
  reason TEXT NOT NULL CHECK (length(trim(reason)) > 0),
  settings TEXT NOT NULL CHECK (json_valid(settings)),
  temp_low_c REAL,
  temp_high_c REAL,
  tip_proven_mm REAL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  issued_at TEXT NOT NULL,
  core_version TEXT NOT NULL,
  input TEXT NOT NULL CHECK (json_valid(input)),
  result TEXT NOT NULL CHECK (json_valid(result)),
  previous_hash TEXT NOT NULL,
  hash TEXT NOT NULL UNIQUE,
  UNIQUE (material_id, printer_id, layer_height_um, version)
) STRICT;
CREATE INDEX parameter_set_calibration ON parameter_set (calibration_id);

CREATE TABLE job (
  id TEXT PRIMARY KEY,
  kind TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('queued', 'running', 'done', 'failed', 'cancelled')),
  progress REAL NOT NULL DEFAULT 0 CHECK (progress BETWEEN 0 AND 1),
  message TEXT NOT NULL DEFAULT '',
  result TEXT CHECK (result IS NULL OR json_valid(result)),
  cancel_asked INTEGER NOT NULL DEFAULT 0 CHECK (cancel_asked IN (0, 1)),
  created_at TEXT NOT NULL,
  ended_at TEXT
) STRICT;
CREATE INDEX job_state ON job (state, created_at);

-- Answers to creates that a double tap or a lost connection could repeat.
CREATE TABLE idempotency (
  key TEXT PRIMARY KEY,
  answer TEXT NOT NULL CHECK (json_valid(answer)),
  at TEXT NOT NULL
) STRICT;

CREATE TABLE setting (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL CHECK (json_valid(value))
) STRICT;

CREATE TRIGGER reading_kept BEFORE UPDATE ON reading BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER reading_stays BEFORE DELETE ON reading BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;
CREATE TRIGGER reading_feature_kept BEFORE UPDATE ON reading_feature BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER reading_feature_stays BEFORE DELETE ON reading_feature BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;
CREATE TRIGGER judgement_kept BEFORE UPDATE ON judgement BEGIN SELECT RAISE(ABORT, 'judgements are followed by new ones, never edited'); END;
CREATE TRIGGER judgement_stays BEFORE DELETE ON judgement BEGIN SELECT RAISE(ABORT, 'judgements are never deleted'); END;
CREATE TRIGGER parameter_set_kept BEFORE UPDATE ON parameter_set BEGIN SELECT RAISE(ABORT, 'issued sets are append-only'); END;
CREATE TRIGGER parameter_set_stays BEFORE DELETE ON parameter_set BEGIN SELECT RAISE(ABORT, 'issued sets are append-only'); END;
CREATE TRIGGER finish_route_version_kept BEFORE UPDATE ON finish_route_version BEGIN SELECT RAISE(ABORT, 'finish routes are versioned, never edited'); END;
