-- The newest set of each pair at each layer height: what every list of sets begins from, however many there were before.
CREATE TABLE newest_set (
  layer_height_um REAL NOT NULL,
  material_id TEXT NOT NULL REFERENCES material (id),
  printer_id TEXT NOT NULL REFERENCES printer (id),
  set_id TEXT NOT NULL REFERENCES parameter_set (id),
  version INTEGER NOT NULL,
  PRIMARY KEY (layer_height_um, material_id, printer_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX newest_set_material ON newest_set (material_id);
CREATE INDEX newest_set_printer ON newest_set (printer_id);
CREATE INDEX newest_set_id ON newest_set (set_id);
-- Another workshop's sets may come in any order.
CREATE TRIGGER parameter_set_newest AFTER INSERT ON parameter_set BEGIN
  INSERT INTO newest_set VALUES (new.layer_height_um, new.material_id, new.printer_id, new.id, new.version)
  ON CONFLICT DO UPDATE SET set_id = excluded.set_id, version = excluded.version WHERE excluded.version > version;
END;
-- The other columns beside a single max() are those of its row.
INSERT INTO newest_set SELECT layer_height_um, material_id, printer_id, id, max(version) FROM parameter_set GROUP BY 1, 2, 3;

-- The newest work on one printer, the heights of the shop and its open calibrations, among all that was ever calibrated.
CREATE INDEX parameter_set_of_printer ON parameter_set (printer_id, issued_at);
CREATE INDEX calibration_of_printer ON calibration (printer_id, opened_at);
CREATE INDEX calibration_height ON calibration (layer_height_um);
CREATE INDEX calibration_open_height ON calibration (layer_height_um, material_id) WHERE closed_at IS NULL;

-- What was printed with a set is summed up by its index alone.
DROP INDEX print_of_set;
CREATE INDEX print_of_set ON print (parameter_set_id, status, printed_at, volume_ml, temp_c) WHERE parameter_set_id IS NOT NULL;
