-- What a check coupon was judged by: criteria, or the dose itself. Made again by `setback rebuild`.
ALTER TABLE check_result ADD COLUMN judged_by TEXT NOT NULL DEFAULT '';
