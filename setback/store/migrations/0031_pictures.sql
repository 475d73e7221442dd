-- The flat coupon's second design has a taper plug: of its steps the drawn play is the size, below zero where they overlap.
CREATE TABLE reading_feature_new (
  reading_id TEXT NOT NULL REFERENCES reading (id),
  feature_key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('wall', 'slot', 'tip', 'outer', 'inner', 'z-gap', 'vernier', 'fit', 'taper', 'legible')),
  side TEXT CHECK (side IN ('left', 'right')),
  axis TEXT CHECK (axis IN ('x', 'y')),
  size_mm REAL NOT NULL CHECK (size_mm > 0 OR kind IN ('vernier', 'taper')),
  state TEXT CHECK (state IN ('formed', 'partial', 'absent', 'lost')),
  measured_mm REAL CHECK (measured_mm >= 0),
  PRIMARY KEY (reading_id, feature_key),
  CHECK (state IS NOT NULL OR measured_mm IS NOT NULL)
) STRICT, WITHOUT ROWID;
INSERT INTO reading_feature_new SELECT reading_id, feature_key, kind, side, axis, size_mm, state, measured_mm
  FROM reading_feature;
DROP TABLE reading_feature;
ALTER TABLE reading_feature_new RENAME TO reading_feature;
CREATE TRIGGER reading_feature_kept BEFORE UPDATE ON reading_feature BEGIN SELECT RAISE(ABORT, 'readings are superseded, never edited'); END;
CREATE TRIGGER reading_feature_stays BEFORE DELETE ON reading_feature BEGIN SELECT RAISE(ABORT, 'readings are withdrawn, never deleted'); END;

-- What the picture reader made of a picture. It becomes evidence only as the reading that a person confirmed from it.
CREATE TABLE picture_reading (
  id TEXT PRIMARY KEY,
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  photo_id TEXT NOT NULL REFERENCES photo (id),
  -- The coupon laid straight, as JPEG, with the scale and the margin it is drawn with.
  straight BLOB NOT NULL,
  straight_px_per_mm REAL NOT NULL CHECK (straight_px_per_mm > 0),
  margin_mm REAL NOT NULL CHECK (margin_mm >= 0),
  px_per_mm REAL NOT NULL CHECK (px_per_mm > 0),
  blur_px REAL NOT NULL CHECK (blur_px >= 0),
  tilt_deg REAL NOT NULL CHECK (tilt_deg BETWEEN 0 AND 90),
  scanner_dpi REAL CHECK (scanner_dpi > 0),
  notices TEXT NOT NULL CHECK (json_valid(notices)),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  read_at TEXT NOT NULL,
  reading_id TEXT REFERENCES reading (id),
  discarded_at TEXT
) STRICT;
CREATE INDEX picture_reading_of ON picture_reading (coupon_id, read_at);
CREATE INDEX picture_reading_confirmed ON picture_reading (reading_id);

CREATE TABLE picture_mark (
  picture_reading_id TEXT NOT NULL REFERENCES picture_reading (id),
  feature_key TEXT NOT NULL,
  state TEXT CHECK (state IN ('formed', 'partial', 'absent')),
  size_mm REAL CHECK (size_mm >= 0),
  sd_um REAL CHECK (sd_um >= 0),
  sure INTEGER NOT NULL CHECK (sure IN (0, 1)),
  reason TEXT,
  PRIMARY KEY (picture_reading_id, feature_key)
) STRICT, WITHOUT ROWID;
CREATE TRIGGER picture_mark_kept BEFORE UPDATE ON picture_mark BEGIN SELECT RAISE(ABORT, 'what the picture reader saw is kept as it was'); END;
CREATE TRIGGER picture_mark_stays BEFORE DELETE ON picture_mark BEGIN SELECT RAISE(ABORT, 'what the picture reader saw is kept as it was'); END;
