-- Questions to other workshops about a calibration, and what came back: readings and notes with whose they are, never settings.
CREATE TABLE question (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  calibration_id TEXT NOT NULL REFERENCES calibration (id),
  arm_id TEXT NOT NULL REFERENCES arm (id),
  text TEXT NOT NULL CHECK (length(trim(text)) BETWEEN 3 AND 2000),
  -- Whether names of lab, material, printer and people go with it.
  with_names INTEGER NOT NULL CHECK (with_names IN (0, 1)),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  asked_at TEXT NOT NULL
) STRICT;
CREATE INDEX question_of ON question (calibration_id);

CREATE TABLE opinion (
  id TEXT PRIMARY KEY,
  question_id TEXT NOT NULL REFERENCES question (id),
  workshop TEXT NOT NULL CHECK (length(trim(workshop)) BETWEEN 1 AND 120),
  initials TEXT NOT NULL DEFAULT '',
  note TEXT NOT NULL DEFAULT '',
  readings TEXT NOT NULL CHECK (json_valid(readings)),
  file_sha256 TEXT NOT NULL UNIQUE CHECK (length(file_sha256) = 64),
  made_at TEXT NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  received_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE INDEX opinion_of ON opinion (question_id);
CREATE TRIGGER opinion_stays BEFORE DELETE ON opinion BEGIN SELECT RAISE(ABORT, 'opinions are withdrawn, never deleted'); END;
