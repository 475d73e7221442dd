-- Failures and open gates are asked for on every visit to the log: neither reads through all prints.
CREATE INDEX print_failed ON print (printed_at, id) WHERE outcome IN ('missing parts', 'failed');
CREATE INDEX print_lift ON print (printer_id) WHERE lift_suppressed = 1 AND lift_back_at IS NULL;
CREATE INDEX print_temp ON print (printer_id, printed_at) WHERE temp_c IS NOT NULL;
