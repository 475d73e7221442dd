-- Why a print failed: what was seen, the checks that were made, and the cause that was found.
CREATE TABLE trace (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  print_id TEXT UNIQUE REFERENCES print (id),
  symptoms TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(symptoms)),
  opened_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1)
) STRICT;

-- Answers are withdrawn, never changed; the newest of a check counts.
CREATE TABLE trace_answer (
  id TEXT PRIMARY KEY,
  trace_id TEXT NOT NULL REFERENCES trace (id),
  check_key TEXT NOT NULL,
  answer TEXT NOT NULL,
  answered_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  withdrawn_at TEXT
) STRICT;
CREATE INDEX trace_answer_of ON trace_answer (trace_id, answered_at);
CREATE TRIGGER trace_answer_stays BEFORE DELETE ON trace_answer BEGIN SELECT RAISE(ABORT, 'answers are withdrawn, never deleted'); END;
CREATE TRIGGER trace_answer_is_kept BEFORE UPDATE OF trace_id, check_key, answer, answered_at, technician_id ON trace_answer
BEGIN SELECT RAISE(ABORT, 'answers are withdrawn, never changed'); END;

-- The cause that was found; those that stand move how often this shop expects each.
CREATE TABLE trace_cause (
  id TEXT PRIMARY KEY,
  trace_id TEXT NOT NULL REFERENCES trace (id),
  cause_key TEXT NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  -- The remedy was carried out and a print after it came out whole.
  passed_print_id TEXT REFERENCES print (id),
  confirmed_at TEXT NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  withdrawn_at TEXT
) STRICT;
CREATE UNIQUE INDEX trace_cause_of ON trace_cause (trace_id) WHERE withdrawn_at IS NULL;
CREATE INDEX trace_cause_counted ON trace_cause (cause_key) WHERE withdrawn_at IS NULL;
CREATE TRIGGER trace_cause_stays BEFORE DELETE ON trace_cause BEGIN SELECT RAISE(ABORT, 'causes are withdrawn, never deleted'); END;
CREATE TRIGGER trace_cause_is_kept BEFORE UPDATE OF trace_id, cause_key, note, confirmed_at, technician_id ON trace_cause
BEGIN SELECT RAISE(ABORT, 'causes are withdrawn, never changed'); END;

-- Steps of a guide on a printer, such as a change of resin; those that were done.
CREATE TABLE guide_run (
  id TEXT PRIMARY KEY,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  guide_key TEXT NOT NULL,
  started_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  ended_at TEXT
) STRICT;
CREATE UNIQUE INDEX guide_run_open ON guide_run (printer_id, guide_key) WHERE ended_at IS NULL;
CREATE TABLE guide_step (
  run_id TEXT NOT NULL REFERENCES guide_run (id),
  step_key TEXT NOT NULL,
  done_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  PRIMARY KEY (run_id, step_key)
) STRICT;
