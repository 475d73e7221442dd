-- What changed is read by day, newest first.
CREATE INDEX reading_at ON reading (read_at);
CREATE INDEX specimen_reading_at ON specimen_reading (read_at);
CREATE INDEX parameter_set_issued ON parameter_set (issued_at);
CREATE INDEX event_recorded ON event (recorded_at);
CREATE INDEX vat_entry_recorded ON vat_entry (recorded_at);
-- What is put off is not forgotten: until when, why, and by whom; without a day it is dismissed.
CREATE TABLE put_off (
  task TEXT PRIMARY KEY,
  until TEXT,
  detail TEXT NOT NULL,
  reason TEXT NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  at TEXT NOT NULL
) STRICT;
-- A print takes its resin out of a bottle, and gives it back when it is taken back.
ALTER TABLE print ADD COLUMN bottle_id TEXT REFERENCES bottle (id);
ALTER TABLE print ADD COLUMN taken_ml REAL CHECK (taken_ml >= 0);
CREATE INDEX print_bottle ON print (bottle_id) WHERE bottle_id IS NOT NULL;
CREATE INDEX parameter_set_material ON parameter_set (material_id);
