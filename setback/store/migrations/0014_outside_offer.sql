-- Why a set was issued although its evidence did not offer the exposure. Such a set never qualifies.
ALTER TABLE parameter_set ADD COLUMN outside_reason TEXT CHECK (outside_reason IS NULL OR length(outside_reason) > 0);
