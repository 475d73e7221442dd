-- The newest calibrations of a material, without looking at all it ever had.
CREATE INDEX calibration_of_material ON calibration (material_id, opened_at);

-- A set's row holds its whole result: what lists of many sets read stands in their index.
DROP INDEX parameter_set_material;
CREATE INDEX parameter_set_material ON parameter_set (material_id, printer_id, layer_height_um, policy, temp_low_c, temp_high_c, exposure_s, issued_at, code, id);
DROP INDEX parameter_set_calibration;
CREATE INDEX parameter_set_calibration ON parameter_set (calibration_id, version, code, exposure_s);
