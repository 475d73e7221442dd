-- A calibration that rests on prints of parts alone: the share of them that should come out whole; null where coupons show it.
ALTER TABLE calibration ADD COLUMN whole_share REAL CHECK (whole_share > 0.5 AND whole_share < 1);

-- Success against temperature looks at every print with a set of a material.
CREATE INDEX print_success ON print (material_id, temp_place, temp_c, outcome) WHERE status = 'printed' AND parameter_set_id IS NOT NULL;
