-- Blends, batches poured from bottles, and the ledger of every vat.

-- Dyes are materials too. Everything points at material by its name, so the table is laid anew.
CREATE TABLE material_with_dye (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('resin', 'blend', 'reference', 'dye')),
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
INSERT INTO material_with_dye SELECT id, code, kind, name, version, created_at, retired_at FROM material;
DROP TABLE material;
ALTER TABLE material_with_dye RENAME TO material;
CREATE UNIQUE INDEX material_name ON material (name COLLATE NOCASE) WHERE retired_at IS NULL;
CREATE INDEX material_live ON material (retired_at, name COLLATE NOCASE);

CREATE TABLE dye (
  material_id TEXT PRIMARY KEY REFERENCES material (id),
  what TEXT NOT NULL CHECK (length(trim(what)) > 0),
  density_g_ml REAL CHECK (density_g_ml > 0),
  price_per_l REAL CHECK (price_per_l >= 0),
  -- Measured change of ln exposure for each percent, and where that is from.
  ln_exposure_per_percent REAL,
  basis TEXT,
  CHECK ((ln_exposure_per_percent IS NULL) = (basis IS NULL))
) STRICT;

ALTER TABLE resin ADD COLUMN viscosity_mpa_s REAL CHECK (viscosity_mpa_s > 0);
ALTER TABLE resin ADD COLUMN vat_hours REAL CHECK (vat_hours > 0);
ALTER TABLE resin ADD COLUMN may_be_mixed INTEGER CHECK (may_be_mixed IN (0, 1));

-- A recipe is never changed: another fraction is another material to calibrate.
CREATE TABLE blend (
  material_id TEXT PRIMARY KEY REFERENCES material (id),
  basis TEXT NOT NULL CHECK (basis IN ('volume', 'mass')),
  findings TEXT NOT NULL CHECK (json_valid(findings)),
  forbidden_reason TEXT,
  origin TEXT NOT NULL CHECK (origin IN ('recipe', 'vat', 'after the fact')),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  created_at TEXT NOT NULL
) STRICT;
CREATE TABLE blend_part (
  blend_id TEXT NOT NULL REFERENCES blend (material_id),
  number INTEGER NOT NULL,
  part_id TEXT NOT NULL REFERENCES material (id),
  fraction REAL NOT NULL CHECK (fraction > 0 AND fraction <= 1),
  PRIMARY KEY (blend_id, number),
  UNIQUE (blend_id, part_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX blend_part_part ON blend_part (part_id);

-- One mixing from named bottles. Poured, it is a bottle of its own.
CREATE TABLE batch (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  blend_id TEXT NOT NULL REFERENCES blend (material_id),
  volume_ml REAL NOT NULL CHECK (volume_ml > 0),
  tolerance_pct REAL NOT NULL CHECK (tolerance_pct > 0),
  planned_at TEXT NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  cup_at TEXT,
  cup_finding TEXT CHECK (cup_finding IN ('fine', 'separated', 'gelled')),
  cup_looked_at TEXT,
  poured_at TEXT,
  stirred_at TEXT,
  bottle_id TEXT REFERENCES bottle (id),
  cancelled_at TEXT,
  cancelled_reason TEXT,
  note TEXT NOT NULL DEFAULT '',
  CHECK ((poured_at IS NULL) = (bottle_id IS NULL)),
  CHECK ((cancelled_at IS NULL) = (cancelled_reason IS NULL))
) STRICT;
CREATE INDEX batch_blend ON batch (blend_id, planned_at);
CREATE UNIQUE INDEX batch_bottle ON batch (bottle_id) WHERE bottle_id IS NOT NULL;
CREATE TABLE batch_pour (
  batch_id TEXT NOT NULL REFERENCES batch (id),
  number INTEGER NOT NULL,
  part_id TEXT NOT NULL REFERENCES material (id),
  bottle_id TEXT REFERENCES bottle (id),
  planned_ml REAL NOT NULL CHECK (planned_ml > 0),
  planned_g REAL,
  poured_ml REAL CHECK (poured_ml >= 0),
  PRIMARY KEY (batch_id, number)
) STRICT, WITHOUT ROWID;
CREATE INDEX batch_pour_bottle ON batch_pour (bottle_id);

-- What went into a vat and out of it. Prints are read from the log of prints; a wrong entry is withdrawn and made again.
CREATE TABLE vat_entry (
  id TEXT PRIMARY KEY,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  kind TEXT NOT NULL CHECK (kind IN ('fill', 'pour', 'feed', 'drain', 'empty', 'stir')),
  at TEXT NOT NULL,
  volume_ml REAL NOT NULL DEFAULT 0 CHECK (volume_ml >= 0),
  bottle_id TEXT REFERENCES bottle (id),
  -- Where a drain went: back through a strainer into a bottle.
  to_bottle_id TEXT REFERENCES bottle (id),
  -- What a stated mixture is called, or that it is a contamination.
  meant_id TEXT REFERENCES material (id),
  stated TEXT,
  event_id TEXT REFERENCES event (id),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT NOT NULL REFERENCES technician (id),
  recorded_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_reason TEXT,
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL)),
  CHECK (kind NOT IN ('fill', 'pour', 'feed') OR bottle_id IS NOT NULL)
) STRICT;
CREATE INDEX vat_entry_printer ON vat_entry (printer_id, at);
CREATE INDEX vat_entry_bottle ON vat_entry (bottle_id);

-- Fractions of one additive in one base, tried to find the one that meets the brief.
CREATE TABLE blend_series (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) > 0),
  base_id TEXT NOT NULL REFERENCES material (id),
  additive_id TEXT NOT NULL REFERENCES material (id),
  brief_id TEXT REFERENCES brief (id),
  max_fraction REAL NOT NULL CHECK (max_fraction > 0 AND max_fraction <= 1),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;

CREATE TRIGGER blend_kept BEFORE UPDATE ON blend BEGIN SELECT RAISE(ABORT, 'recipes are never changed'); END;
CREATE TRIGGER blend_part_kept BEFORE UPDATE ON blend_part BEGIN SELECT RAISE(ABORT, 'recipes are never changed'); END;
CREATE TRIGGER vat_entry_stays BEFORE DELETE ON vat_entry BEGIN SELECT RAISE(ABORT, 'entries are withdrawn, never deleted'); END;
