-- Prints are logged with what came out; gates hold until somebody says that they are cleared.

ALTER TABLE print ADD COLUMN outcome TEXT CHECK (outcome IN ('whole', 'missing parts', 'failed'));
ALTER TABLE print ADD COLUMN seen TEXT NOT NULL DEFAULT '';
ALTER TABLE print ADD COLUMN parameter_set_id TEXT REFERENCES parameter_set (id);
ALTER TABLE print ADD COLUMN settings_note TEXT NOT NULL DEFAULT '';
-- After missing parts: the vat searched and the film checked, by whom.
ALTER TABLE print ADD COLUMN searched_at TEXT;
ALTER TABLE print ADD COLUMN searched_by TEXT REFERENCES technician (id);
ALTER TABLE print ADD COLUMN lift_suppressed INTEGER NOT NULL DEFAULT 0 CHECK (lift_suppressed IN (0, 1));
ALTER TABLE print ADD COLUMN lift_back_at TEXT;
ALTER TABLE print ADD COLUMN lift_back_by TEXT REFERENCES technician (id);
CREATE INDEX print_printer ON print (printer_id, status);
CREATE INDEX print_printed ON print (printed_at, id);

-- A part that was printed outside a campaign, and how it came out.
CREATE TABLE print_part (
  id TEXT PRIMARY KEY,
  print_id TEXT NOT NULL REFERENCES print (id),
  name TEXT NOT NULL CHECK (length(trim(name)) > 0),
  place TEXT NOT NULL DEFAULT '',
  outcome TEXT NOT NULL CHECK (outcome IN ('whole', 'in part', 'missing'))
) STRICT;
CREATE INDEX print_part_print ON print_part (print_id);

-- What was checked before a campaign or a print, or that it was skipped, and by whom.
CREATE TABLE preparation (
  id TEXT PRIMARY KEY,
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  occasion TEXT NOT NULL CHECK (occasion IN ('campaign', 'print')),
  ticked TEXT NOT NULL CHECK (json_valid(ticked)),
  skipped INTEGER NOT NULL CHECK (skipped IN (0, 1)),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  at TEXT NOT NULL
) STRICT;
CREATE INDEX preparation_calibration ON preparation (calibration_id, at);

-- A demanding part or the support coupon at the chosen exposure.
CREATE TABLE confirmation (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  arm_id TEXT NOT NULL REFERENCES arm (id),
  exposure_s REAL NOT NULL CHECK (exposure_s > 0),
  place TEXT NOT NULL CHECK (place IN ('centre', 'worst place')),
  what TEXT NOT NULL CHECK (length(trim(what)) > 0),
  finding TEXT,
  note TEXT NOT NULL DEFAULT '',
  outside_reason TEXT,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  confirmed_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT,
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL))
) STRICT;
CREATE INDEX confirmation_calibration ON confirmation (calibration_id);

CREATE TRIGGER preparation_kept BEFORE UPDATE ON preparation BEGIN SELECT RAISE(ABORT, 'what was checked is never edited'); END;
CREATE TRIGGER preparation_stays BEFORE DELETE ON preparation BEGIN SELECT RAISE(ABORT, 'what was checked is never deleted'); END;
CREATE TRIGGER confirmation_stays BEFORE DELETE ON confirmation BEGIN SELECT RAISE(ABORT, 'confirmations are withdrawn, never deleted'); END;
