-- Briefs, reference materials, and tests: groups of specimens broken in random order, one method a test.

CREATE TABLE brief (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE UNIQUE INDEX brief_name ON brief (name COLLATE NOCASE) WHERE retired_at IS NULL;

CREATE TABLE brief_version (
  id TEXT PRIMARY KEY,
  brief_id TEXT NOT NULL REFERENCES brief (id),
  version INTEGER NOT NULL CHECK (version >= 1),
  use TEXT NOT NULL DEFAULT '',
  requirements TEXT NOT NULL CHECK (json_valid(requirements)),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  created_at TEXT NOT NULL,
  UNIQUE (brief_id, version)
) STRICT;

-- What is bought in to compare with: no resin, no bottle, no exposure.
CREATE TABLE reference_material (
  material_id TEXT PRIMARY KEY REFERENCES material (id),
  what TEXT NOT NULL CHECK (length(trim(what)) > 0),
  price_per_l REAL CHECK (price_per_l >= 0)
) STRICT;

CREATE TABLE test (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  method TEXT NOT NULL,
  brief_version_id TEXT REFERENCES brief_version (id),
  setup TEXT NOT NULL CHECK (json_valid(setup)),
  wanted TEXT NOT NULL CHECK (json_valid(wanted)),
  age_h REAL CHECK (age_h >= 0),
  seed INTEGER NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  -- Why mixed cures, borrowed or lapsed sets stand side by side; NULL when nothing of the kind did.
  concerns TEXT CHECK (concerns IS NULL OR json_valid(concerns)),
  concerns_reason TEXT,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  planned_at TEXT NOT NULL,
  closed_at TEXT,
  closed_reason TEXT,
  CHECK ((closed_at IS NULL) = (closed_reason IS NULL)),
  CHECK ((concerns IS NULL) = (concerns_reason IS NULL))
) STRICT;
CREATE INDEX test_planned ON test (planned_at, id);
CREATE INDEX test_open ON test (closed_at, planned_at);

-- One material under one set and one finish route: what is compared with the others.
CREATE TABLE test_group (
  id TEXT PRIMARY KEY,
  test_id TEXT NOT NULL REFERENCES test (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  material_id TEXT NOT NULL REFERENCES material (id),
  parameter_set_id TEXT REFERENCES parameter_set (id),
  printer_id TEXT REFERENCES printer (id),
  finish_route_version_id TEXT REFERENCES finish_route_version (id),
  print_id TEXT REFERENCES print (id),
  exposure_s REAL CHECK (exposure_s > 0),
  cure_min REAL CHECK (cure_min >= 0),
  condition TEXT NOT NULL DEFAULT '',
  orientation TEXT NOT NULL DEFAULT '',
  supports TEXT NOT NULL DEFAULT '',
  is_reference INTEGER NOT NULL DEFAULT 0 CHECK (is_reference IN (0, 1)),
  cured_at TEXT,
  UNIQUE (test_id, number)
) STRICT;
CREATE INDEX test_group_material ON test_group (material_id, test_id);
CREATE INDEX test_group_print ON test_group (print_id) WHERE print_id IS NOT NULL;

-- A specimen belongs to a plate, unless it was bought or cut.
CREATE TABLE specimen (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  group_id TEXT NOT NULL REFERENCES test_group (id),
  plate_id TEXT REFERENCES plate (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  turn INTEGER NOT NULL CHECK (turn >= 1),
  place TEXT NOT NULL DEFAULT '',
  gone_at TEXT,
  gone_reason TEXT,
  UNIQUE (group_id, number),
  CHECK ((gone_at IS NULL) = (gone_reason IS NULL))
) STRICT;
CREATE INDEX specimen_plate ON specimen (plate_id) WHERE plate_id IS NOT NULL;

CREATE TABLE specimen_reading (
  id TEXT PRIMARY KEY,
  specimen_id TEXT NOT NULL REFERENCES specimen (id),
  -- What a series is read at: cycles. 0 where a specimen is read once.
  at_value REAL NOT NULL DEFAULT 0,
  read TEXT NOT NULL CHECK (json_valid(read)),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  read_at TEXT NOT NULL,
  withdrawn INTEGER NOT NULL DEFAULT 0 CHECK (withdrawn IN (0, 1)),
  supersedes_id TEXT UNIQUE REFERENCES specimen_reading (id),
  reason TEXT,
  CHECK ((supersedes_id IS NULL) = (reason IS NULL))
) STRICT;
CREATE INDEX specimen_reading_specimen ON specimen_reading (specimen_id);
CREATE UNIQUE INDEX specimen_reading_first ON specimen_reading (specimen_id, at_value) WHERE supersedes_id IS NULL;

-- Photos are of coupons or of specimens.
CREATE TABLE photo_of_both (
  id TEXT PRIMARY KEY,
  coupon_id TEXT REFERENCES coupon (id),
  specimen_id TEXT REFERENCES specimen (id),
  mime TEXT NOT NULL CHECK (mime IN ('image/jpeg', 'image/png', 'image/webp')),
  width_px INTEGER NOT NULL CHECK (width_px > 0),
  height_px INTEGER NOT NULL CHECK (height_px > 0),
  sha256 TEXT NOT NULL,
  image BLOB NOT NULL,
  taken_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  retired_at TEXT,
  CHECK ((coupon_id IS NULL) <> (specimen_id IS NULL))
) STRICT;
INSERT INTO photo_of_both SELECT id, coupon_id, NULL, mime, width_px, height_px, sha256, image, taken_at, technician_id, retired_at FROM photo;
DROP TABLE photo;
ALTER TABLE photo_of_both RENAME TO photo;
CREATE INDEX photo_coupon ON photo (coupon_id) WHERE coupon_id IS NOT NULL;
CREATE INDEX photo_specimen ON photo (specimen_id) WHERE specimen_id IS NOT NULL;

CREATE TRIGGER brief_version_kept BEFORE UPDATE ON brief_version BEGIN SELECT RAISE(ABORT, 'briefs are versioned, never edited'); END;
CREATE TRIGGER brief_version_stays BEFORE DELETE ON brief_version BEGIN SELECT RAISE(ABORT, 'briefs are versioned, never deleted'); END;
CREATE TRIGGER specimen_reading_kept BEFORE UPDATE ON specimen_reading BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER specimen_reading_stays BEFORE DELETE ON specimen_reading BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;
