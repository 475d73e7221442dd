-- Parameter sets live and die: events, the shop's own rules and limits, check coupons, guesses kept beside results.

CREATE TABLE event (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL,
  printer_id TEXT REFERENCES printer (id),
  material_id TEXT REFERENCES material (id),
  bottle_id TEXT REFERENCES bottle (id),
  finish_route_id TEXT REFERENCES finish_route (id),
  happened_at TEXT NOT NULL,
  screen_hours REAL CHECK (screen_hours >= 0),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  recorded_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT,
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL)),
  CHECK (printer_id IS NOT NULL OR material_id IS NOT NULL OR bottle_id IS NOT NULL OR finish_route_id IS NOT NULL)
) STRICT;
CREATE INDEX event_printer ON event (printer_id, happened_at);
CREATE INDEX event_material ON event (material_id, happened_at);
CREATE TRIGGER event_stays BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'events are withdrawn, never deleted'); END;

-- The shop's own kinds of event, and its own limits for those that ship.
CREATE TABLE validity_rule (
  key TEXT PRIMARY KEY,
  rule TEXT NOT NULL CHECK (json_valid(rule)),
  technician_id TEXT REFERENCES technician (id),
  changed_at TEXT NOT NULL
) STRICT;

ALTER TABLE coupon ADD COLUMN check_of TEXT REFERENCES parameter_set (id);
CREATE INDEX coupon_check ON coupon (check_of) WHERE check_of IS NOT NULL;
ALTER TABLE print ADD COLUMN screen_hours REAL CHECK (screen_hours >= 0);
-- What start-exposure said when the campaign began: kept, to be compared with what came out.
ALTER TABLE calibration ADD COLUMN guess TEXT CHECK (guess IS NULL OR json_valid(guess));
CREATE INDEX parameter_set_pair ON parameter_set (printer_id, material_id, layer_height_um);
CREATE INDEX parameter_set_height ON parameter_set (layer_height_um);
CREATE INDEX print_set ON print (parameter_set_id) WHERE parameter_set_id IS NOT NULL;

-- What check coupons say, kept for speed; `setback rebuild` makes it again from the readings.
CREATE TABLE check_result (
  coupon_id TEXT PRIMARY KEY REFERENCES coupon (id),
  parameter_set_id TEXT NOT NULL REFERENCES parameter_set (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  at TEXT NOT NULL,
  screen_hours REAL,
  off_pct REAL,
  verdict TEXT,
  passed INTEGER NOT NULL CHECK (passed IN (0, 1))
) STRICT;
CREATE INDEX check_result_set ON check_result (parameter_set_id, at);
CREATE INDEX check_result_printer ON check_result (printer_id, at);

-- First guesses of a layer height, kept until anything they rest on changes; `stamp` says what they rested on.
CREATE TABLE guess (
  layer_height_um REAL NOT NULL,
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  exposure_s REAL NOT NULL,
  low_s REAL NOT NULL,
  high_s REAL NOT NULL,
  basis TEXT NOT NULL,
  stamp TEXT NOT NULL,
  PRIMARY KEY (layer_height_um, material_id, printer_id)
) STRICT, WITHOUT ROWID;
