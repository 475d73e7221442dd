-- The newest calibrations of a material, without looking at all it ever had.
CREATE INDEX calibration_of_material ON calibration (material_id, opened_at);
