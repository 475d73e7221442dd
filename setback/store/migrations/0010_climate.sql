-- Climate: what reads a probe, heaters and how chambers answer them, flow of resins, and warm starts that were planned.

ALTER TABLE probe ADD COLUMN driver TEXT NOT NULL DEFAULT 'hand' CHECK (driver IN ('hand', 'simulated'));

-- Files that wait to be imported lie beside the database; this row says what they are.
CREATE TABLE probe_file (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  path TEXT NOT NULL,
  bytes INTEGER NOT NULL CHECK (bytes > 0),
  seen TEXT NOT NULL CHECK (json_valid(seen)),
  technician_id TEXT REFERENCES technician (id),
  at TEXT NOT NULL,
  imported_at TEXT
) STRICT;

CREATE TABLE heater (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  watts REAL NOT NULL CHECK (watts BETWEEN 1 AND 20000),
  cut_out INTEGER NOT NULL CHECK (cut_out IN (0, 1)),
  thermostat INTEGER NOT NULL CHECK (thermostat IN (0, 1)),
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
CREATE UNIQUE INDEX heater_name ON heater (name COLLATE NOCASE) WHERE retired_at IS NULL;

-- What a chamber is, from one logged heating; the newest that is not withdrawn counts.
CREATE TABLE chamber_fit (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  heater_id TEXT NOT NULL REFERENCES heater (id),
  probe INTEGER NOT NULL REFERENCES probe (number),
  from_s INTEGER NOT NULL,
  to_s INTEGER NOT NULL CHECK (to_s > from_s),
  ambient_c REAL NOT NULL,
  loss_w_per_k REAL NOT NULL CHECK (loss_w_per_k > 0),
  heat_capacity_j_per_k REAL NOT NULL CHECK (heat_capacity_j_per_k > 0),
  result TEXT NOT NULL CHECK (json_valid(result)),
  technician_id TEXT REFERENCES technician (id),
  at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE INDEX chamber_fit_printer ON chamber_fit (printer_id, at);

CREATE TABLE flow_reading (
  id TEXT PRIMARY KEY,
  material_id TEXT NOT NULL REFERENCES material (id),
  temp_c REAL NOT NULL CHECK (temp_c BETWEEN -40 AND 120),
  value REAL NOT NULL CHECK (value > 0),
  unit TEXT NOT NULL CHECK (unit IN ('mPa·s', 's')),
  technician_id TEXT REFERENCES technician (id),
  at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT
) STRICT;
CREATE INDEX flow_reading_material ON flow_reading (material_id, temp_c);

CREATE TABLE warm_start (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  asked TEXT NOT NULL CHECK (json_valid(asked)),
  plan TEXT NOT NULL CHECK (json_valid(plan)),
  technician_id TEXT REFERENCES technician (id),
  at TEXT NOT NULL,
  begun_at TEXT
) STRICT;

ALTER TABLE print ADD COLUMN temp_end_c REAL CHECK (temp_end_c BETWEEN -20 AND 80);
-- A print outside its set's band: what was said, and why it went on.
ALTER TABLE print ADD COLUMN outside_band TEXT CHECK (outside_band IS NULL OR json_valid(outside_band));
CREATE INDEX print_set_temp ON print (parameter_set_id, temp_c) WHERE parameter_set_id IS NOT NULL AND temp_c IS NOT NULL;
