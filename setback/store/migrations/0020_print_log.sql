-- A print of parts is started, and reported on when it came out; a report is superseded or withdrawn, never changed.
ALTER TABLE print ADD COLUMN of_parts INTEGER NOT NULL DEFAULT 0 CHECK (of_parts IN (0, 1));
ALTER TABLE print ADD COLUMN started_at TEXT;
ALTER TABLE print ADD COLUMN started_by TEXT REFERENCES technician (id);
ALTER TABLE print ADD COLUMN material_id TEXT REFERENCES material (id);
ALTER TABLE print ADD COLUMN layer_height_um REAL CHECK (layer_height_um > 0);
ALTER TABLE print ADD COLUMN exposure_s REAL CHECK (exposure_s > 0);
-- Every other setting, where no issued set says them.
ALTER TABLE print ADD COLUMN settings TEXT CHECK (settings IS NULL OR json_valid(settings));
ALTER TABLE print ADD COLUMN tip_mm REAL CHECK (tip_mm > 0);
-- What it was started from: the code of a coupon or a test.
ALTER TABLE print ADD COLUMN started_from TEXT;
-- Seconds of light it added to the hours of its screen; given back when it is taken back.
ALTER TABLE print ADD COLUMN light_s REAL CHECK (light_s >= 0);
-- Whether cured pieces may lie in the vat after parts failed.
ALTER TABLE print ADD COLUMN pieces_lost INTEGER NOT NULL DEFAULT 1 CHECK (pieces_lost IN (0, 1));

CREATE TABLE print_report (
  id TEXT PRIMARY KEY,
  print_id TEXT NOT NULL REFERENCES print (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  finished_at TEXT NOT NULL,
  outcome TEXT NOT NULL CHECK (outcome IN ('whole', 'missing parts', 'failed')),
  symptoms TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(symptoms)),
  seen TEXT NOT NULL DEFAULT '',
  pieces_lost INTEGER NOT NULL DEFAULT 1 CHECK (pieces_lost IN (0, 1)),
  volume_ml REAL NOT NULL CHECK (volume_ml >= 0),
  duration_s REAL NOT NULL CHECK (duration_s >= 0),
  temp_end_c REAL CHECK (temp_end_c BETWEEN -20 AND 80),
  -- Why it supersedes the one before.
  reason TEXT NOT NULL DEFAULT '',
  technician_id TEXT REFERENCES technician (id),
  recorded_at TEXT NOT NULL,
  withdrawn_at TEXT,
  withdrawn_by TEXT REFERENCES technician (id),
  withdrawn_reason TEXT,
  UNIQUE (print_id, number),
  CHECK ((withdrawn_at IS NULL) = (withdrawn_reason IS NULL))
) STRICT;
CREATE TRIGGER print_report_stays BEFORE DELETE ON print_report BEGIN SELECT RAISE(ABORT, 'reports are withdrawn, never deleted'); END;
CREATE TRIGGER print_report_is_kept BEFORE UPDATE OF print_id, number, finished_at, outcome, symptoms, seen, pieces_lost, volume_ml, duration_s,
  temp_end_c, reason, technician_id, recorded_at ON print_report
BEGIN SELECT RAISE(ABORT, 'reports are superseded, never changed'); END;

-- Parts as counts; without a report as they were planned. Other failures are what is left.
ALTER TABLE print_part ADD COLUMN report_id TEXT REFERENCES print_report (id);
ALTER TABLE print_part ADD COLUMN printed INTEGER NOT NULL DEFAULT 1 CHECK (printed >= 1);
ALTER TABLE print_part ADD COLUMN whole INTEGER CHECK (whole BETWEEN 0 AND printed);
ALTER TABLE print_part ADD COLUMN under INTEGER NOT NULL DEFAULT 0 CHECK (under >= 0);
ALTER TABLE print_part ADD COLUMN over INTEGER NOT NULL DEFAULT 0 CHECK (over >= 0);
ALTER TABLE print_part ADD COLUMN x_mm REAL;
ALTER TABLE print_part ADD COLUMN y_mm REAL;
CREATE INDEX print_part_report ON print_part (report_id);

UPDATE print SET of_parts = 1 WHERE id IN (SELECT print_id FROM print_part);
INSERT INTO print_report (id, print_id, number, finished_at, outcome, seen, volume_ml, duration_s, temp_end_c, technician_id, recorded_at)
  SELECT id, id, 1, printed_at, coalesce(outcome, 'whole'), seen, volume_ml, duration_s, temp_end_c, technician_id, printed_at
  FROM print WHERE of_parts = 1 AND status = 'printed';
UPDATE print_part SET whole = (outcome = 'whole');
UPDATE print_part SET report_id = print_id WHERE print_id IN (SELECT id FROM print_report);
UPDATE print SET material_id = coalesce(
  (SELECT material_id FROM parameter_set s WHERE s.id = print.parameter_set_id),
  (SELECT c.material_id FROM arm a JOIN calibration c ON c.id = a.calibration_id WHERE a.id = print.arm_id),
  (SELECT g.material_id FROM plate l JOIN specimen e ON e.plate_id = l.id JOIN test_group g ON g.id = e.group_id WHERE l.print_id = print.id LIMIT 1));
UPDATE print SET exposure_s = (SELECT exposure_s FROM parameter_set s WHERE s.id = print.parameter_set_id),
  layer_height_um = (SELECT layer_height_um FROM parameter_set s WHERE s.id = print.parameter_set_id)
  WHERE of_parts = 1 AND parameter_set_id IS NOT NULL;

-- Photos are of coupons, of specimens or of prints.
CREATE TABLE photo_of_all (
  id TEXT PRIMARY KEY,
  coupon_id TEXT REFERENCES coupon (id),
  specimen_id TEXT REFERENCES specimen (id),
  print_id TEXT REFERENCES print (id),
  mime TEXT NOT NULL CHECK (mime IN ('image/jpeg', 'image/png', 'image/webp')),
  width_px INTEGER NOT NULL CHECK (width_px > 0),
  height_px INTEGER NOT NULL CHECK (height_px > 0),
  sha256 TEXT NOT NULL,
  image BLOB NOT NULL,
  taken_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  retired_at TEXT,
  CHECK ((coupon_id IS NOT NULL) + (specimen_id IS NOT NULL) + (print_id IS NOT NULL) = 1)
) STRICT;
INSERT INTO photo_of_all SELECT id, coupon_id, specimen_id, NULL, mime, width_px, height_px, sha256, image, taken_at, technician_id, retired_at FROM photo;
DROP TABLE photo;
ALTER TABLE photo_of_all RENAME TO photo;
CREATE INDEX photo_coupon ON photo (coupon_id) WHERE coupon_id IS NOT NULL;
CREATE INDEX photo_specimen ON photo (specimen_id) WHERE specimen_id IS NOT NULL;
CREATE INDEX photo_print ON photo (print_id) WHERE print_id IS NOT NULL;
CREATE INDEX photo_content ON photo (sha256);
CREATE INDEX print_of_printer ON print (printer_id, printed_at, id);
CREATE INDEX print_of_material ON print (material_id, printed_at, id);
CREATE INDEX print_of_set ON print (parameter_set_id, printed_at, volume_ml, temp_c) WHERE parameter_set_id IS NOT NULL;
CREATE INDEX print_of_parts ON print (material_id, printer_id, layer_height_um, printed_at, id, exposure_s) WHERE of_parts = 1 AND status = 'printed';
CREATE INDEX print_vat_gate ON print (printer_id, printed_at)
  WHERE status = 'printed' AND pieces_lost = 1 AND searched_at IS NULL AND outcome IN ('missing parts', 'failed');
CREATE INDEX print_lift_gate ON print (printer_id, printed_at) WHERE status = 'printed' AND lift_suppressed = 1 AND lift_back_at IS NULL;
CREATE INDEX print_running ON print (printer_id, started_at) WHERE status = 'planned' AND started_at IS NOT NULL;
