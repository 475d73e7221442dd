-- The window of each issued set, read off its result once: the result is long, and every list of sets asks for the ends alone.
CREATE TABLE set_window (
  set_id TEXT PRIMARY KEY REFERENCES parameter_set (id),
  lower_s REAL,
  upper_s REAL,
  latitude_pct REAL,
  method TEXT
) STRICT, WITHOUT ROWID;
CREATE TRIGGER parameter_set_window AFTER INSERT ON parameter_set BEGIN
  INSERT INTO set_window VALUES (new.id, CAST(new.result ->> '$.window.lower_s' AS REAL), CAST(new.result ->> '$.window.upper_s' AS REAL),
    CAST(new.result ->> '$.window.latitude_pct' AS REAL), CAST(new.result ->> '$.method' AS TEXT));
END;
INSERT INTO set_window SELECT id, CAST(result ->> '$.window.lower_s' AS REAL), CAST(result ->> '$.window.upper_s' AS REAL),
  CAST(result ->> '$.window.latitude_pct' AS REAL), CAST(result ->> '$.method' AS TEXT) FROM parameter_set;

-- What is open, and what was finished by a route, among all that was ever calibrated.
CREATE INDEX calibration_open ON calibration (opened_at) WHERE closed_at IS NULL;
CREATE INDEX calibration_route ON calibration (finish_route_version_id);

-- Parts are looked for by name among all that were ever printed.
CREATE INDEX print_part_name ON print_part (name);
