-- Coupons a workshop has of its own, and what one look at a coupon says.
CREATE TABLE own_coupon (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
  -- Series, lengths and pairs as they were described; what was printed keeps the drawing it was planned with.
  description TEXT NOT NULL CHECK (json_valid(description)),
  thickness_mm REAL NOT NULL CHECK (thickness_mm BETWEEN 0.05 AND 200),
  volume_ml REAL NOT NULL CHECK (volume_ml BETWEEN 0.01 AND 1000),
  width_mm REAL NOT NULL CHECK (width_mm BETWEEN 1 AND 500),
  height_mm REAL NOT NULL CHECK (height_mm BETWEEN 1 AND 500),
  note TEXT NOT NULL DEFAULT '',
  photo BLOB,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  created_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  retired_at TEXT
) STRICT;

CREATE TABLE coupon_look (
  id TEXT PRIMARY KEY,
  coupon_id TEXT NOT NULL REFERENCES coupon (id),
  verdict TEXT NOT NULL CHECK (verdict IN ('under', 'right', 'over')),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  looked_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE UNIQUE INDEX coupon_look_of ON coupon_look (coupon_id) WHERE withdrawn_at IS NULL;
CREATE TRIGGER coupon_look_stays BEFORE DELETE ON coupon_look BEGIN SELECT RAISE(ABORT, 'looks are withdrawn, never deleted'); END;
