-- How a print was finished, where it was otherwise than its finish route says; null means nothing was noted.
DROP TRIGGER print_report_is_kept;
ALTER TABLE print_report ADD COLUMN dry_min REAL CHECK (dry_min >= 0);
ALTER TABLE print_report ADD COLUMN cure_min REAL CHECK (cure_min >= 0);
CREATE TRIGGER print_report_is_kept BEFORE UPDATE OF print_id, number, finished_at, outcome, symptoms, seen, pieces_lost, volume_ml, duration_s,
  temp_end_c, dry_min, cure_min, reason, technician_id, recorded_at ON print_report
BEGIN SELECT RAISE(ABORT, 'reports are superseded, never changed'); END;

-- A bath of wash fluid wears with every load; what went through it is counted from the prints.
CREATE TABLE wash_bath (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  wash_fluid TEXT NOT NULL CHECK (length(trim(wash_fluid)) BETWEEN 1 AND 80),
  stage TEXT NOT NULL CHECK (stage IN ('dirty', 'clean')),
  volume_l REAL NOT NULL CHECK (volume_l > 0),
  most_loads INTEGER NOT NULL CHECK (most_loads >= 1),
  version INTEGER NOT NULL DEFAULT 1,
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE UNIQUE INDEX wash_bath_name ON wash_bath (name COLLATE NOCASE) WHERE retired_at IS NULL;
CREATE TABLE wash_bath_filling (
  id TEXT PRIMARY KEY,
  wash_bath_id TEXT NOT NULL REFERENCES wash_bath (id),
  filled_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  recorded_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE INDEX wash_bath_filling_of ON wash_bath_filling (wash_bath_id, filled_at) WHERE withdrawn_at IS NULL;
CREATE TRIGGER wash_bath_filling_stays BEFORE DELETE ON wash_bath_filling BEGIN SELECT RAISE(ABORT, 'fillings are withdrawn, never deleted'); END;
CREATE INDEX print_washed ON print (printed_at) WHERE status = 'printed';
