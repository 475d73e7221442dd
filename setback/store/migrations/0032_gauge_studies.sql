-- Gauge studies: people, and the picture reader, read the same coupons again and again, each in an order of their own.
CREATE TABLE gauge_study (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  -- What is read: a bar and a notch by calipers, or the step at which the taper plug stopped.
  measure TEXT NOT NULL CHECK (measure IN ('edges', 'plug')),
  repeats INTEGER NOT NULL CHECK (repeats BETWEEN 2 AND 10),
  -- Whole width of the tolerance of edge growth.
  tolerance_um REAL CHECK (tolerance_um > 0),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  planned_at TEXT NOT NULL,
  finished_at TEXT,
  withdrawn_at TEXT,
  withdrawn_reason TEXT
) STRICT;
CREATE TABLE gauge_turn (
  id TEXT PRIMARY KEY,
  study_id TEXT NOT NULL REFERENCES gauge_study (id),
  -- Readers are numbered in the study; one without a technician is the picture reader.
  reader INTEGER NOT NULL CHECK (reader >= 0),
  technician_id TEXT REFERENCES technician (id),
  place INTEGER NOT NULL CHECK (place >= 0),
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  coupon_place INTEGER NOT NULL CHECK (coupon_place >= 0),
  repeat INTEGER NOT NULL CHECK (repeat >= 0),
  UNIQUE (study_id, reader, place)
) STRICT;
CREATE INDEX gauge_turn_of ON gauge_turn (coupon_id);
CREATE TRIGGER gauge_turn_stays BEFORE DELETE ON gauge_turn BEGIN SELECT RAISE(ABORT, 'turns of a study stay'); END;
CREATE TABLE gauge_reading (
  id TEXT PRIMARY KEY,
  turn_id TEXT NOT NULL REFERENCES gauge_turn (id),
  outer_mm REAL,
  inner_mm REAL,
  step_key TEXT,
  growth_um REAL NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  read_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE UNIQUE INDEX gauge_reading_of ON gauge_reading (turn_id) WHERE withdrawn_at IS NULL;
CREATE TRIGGER gauge_reading_kept BEFORE UPDATE ON gauge_reading WHEN old.growth_um <> new.growth_um OR old.turn_id <> new.turn_id
  BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never edited'); END;
CREATE TRIGGER gauge_reading_stays BEFORE DELETE ON gauge_reading BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;

-- A reader's bias that was shown by a study and is taken off their readings, because somebody asked for it.
CREATE TABLE reader_correction (
  id TEXT PRIMARY KEY,
  study_id TEXT NOT NULL REFERENCES gauge_study (id),
  -- None: the picture reader.
  technician_id TEXT REFERENCES technician (id),
  bias_um REAL NOT NULL,
  begun_by TEXT NOT NULL REFERENCES technician (id),
  begun_at TEXT NOT NULL,
  ended_by TEXT REFERENCES technician (id),
  ended_at TEXT
) STRICT;
CREATE UNIQUE INDEX reader_correction_of ON reader_correction (coalesce(technician_id, '')) WHERE ended_at IS NULL;

-- Which camera took a picture, where its file says so.
CREATE TABLE picture_camera (
  picture_reading_id TEXT PRIMARY KEY REFERENCES picture_reading (id),
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60)
) STRICT;

-- Practice is no evidence: coupons of the virtual printer, what a person took them for, and the truth.
CREATE TABLE practice_round (
  id TEXT PRIMARY KEY,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  level INTEGER NOT NULL CHECK (level BETWEEN 1 AND 3),
  seed INTEGER NOT NULL,
  begun_at TEXT NOT NULL,
  finished_at TEXT
) STRICT;
CREATE INDEX practice_round_of ON practice_round (technician_id, begun_at);
CREATE TABLE practice_coupon (
  id TEXT PRIMARY KEY,
  round_id TEXT NOT NULL REFERENCES practice_round (id),
  place INTEGER NOT NULL CHECK (place >= 0),
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  picture BLOB NOT NULL,
  truth TEXT NOT NULL CHECK (json_valid(truth)),
  answer TEXT CHECK (answer IS NULL OR json_valid(answer)),
  score TEXT CHECK (score IS NULL OR json_valid(score)),
  read_at TEXT,
  UNIQUE (round_id, place)
) STRICT;
