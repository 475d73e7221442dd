-- Temperature as evidence: every probe names its place; samples are kept once and summed up in steps for drawing.

CREATE TABLE probe (
  number INTEGER PRIMARY KEY,
  id TEXT NOT NULL UNIQUE,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  place TEXT NOT NULL CHECK (place IN ('room', 'chamber air', 'resin')),
  printer_id TEXT REFERENCES printer (id),
  note TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT,
  CHECK (place = 'room' OR printer_id IS NOT NULL)
) STRICT;
CREATE UNIQUE INDEX probe_name ON probe (name COLLATE NOCASE) WHERE retired_at IS NULL;
CREATE INDEX probe_printer ON probe (printer_id) WHERE printer_id IS NOT NULL;

-- at_s counts seconds since 1970 in UTC: two million rows have no room for words.
CREATE TABLE probe_sample (
  probe INTEGER NOT NULL REFERENCES probe (number),
  at_s INTEGER NOT NULL,
  temp_c REAL NOT NULL CHECK (temp_c BETWEEN -60 AND 150),
  humidity_pct REAL CHECK (humidity_pct BETWEEN 0 AND 100),
  PRIMARY KEY (probe, at_s)
) STRICT, WITHOUT ROWID;

-- What lies within one step of a width; made from the samples, and made again when they change.
CREATE TABLE probe_step (
  probe INTEGER NOT NULL REFERENCES probe (number),
  width_s INTEGER NOT NULL,
  at_s INTEGER NOT NULL,
  samples INTEGER NOT NULL CHECK (samples >= 1),
  low_c REAL NOT NULL,
  mean_c REAL NOT NULL,
  high_c REAL NOT NULL,
  PRIMARY KEY (probe, width_s, at_s)
) STRICT, WITHOUT ROWID;
