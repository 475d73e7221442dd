-- The day planned: what a person adds to the work itself, what is fixed, what was ticked off, and the newest plan.
CREATE TABLE own_task (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 120),
  minutes INTEGER NOT NULL CHECK (minutes BETWEEN 1 AND 1440),
  due_at TEXT,
  printer_id TEXT REFERENCES printer (id),
  note TEXT NOT NULL DEFAULT '',
  technician_id TEXT REFERENCES technician (id),
  created_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  withdrawn_at TEXT
) STRICT;

-- When a job, a calibration or a test, is needed by.
CREATE TABLE job_due (
  job TEXT PRIMARY KEY,
  due_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  set_at TEXT NOT NULL
) STRICT;

-- A step that was begun or done, with the minutes that were planned for it: what corrects this lab's durations.
CREATE TABLE plan_tick (
  id TEXT PRIMARY KEY,
  task_key TEXT NOT NULL,
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  planned_min INTEGER NOT NULL CHECK (planned_min >= 0),
  begun_at TEXT NOT NULL,
  done_at TEXT CHECK (done_at >= begun_at),
  timer_id TEXT REFERENCES timer (id),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  recorded_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;
CREATE UNIQUE INDEX plan_tick_of ON plan_tick (task_key) WHERE withdrawn_at IS NULL;
CREATE INDEX plan_tick_kind ON plan_tick (kind, begun_at) WHERE withdrawn_at IS NULL AND done_at IS NOT NULL;
CREATE TRIGGER plan_tick_stays BEFORE DELETE ON plan_tick BEGIN SELECT RAISE(ABORT, 'ticks are withdrawn, never deleted'); END;

-- A printer that cannot be used for a while.
CREATE TABLE printer_down (
  id TEXT PRIMARY KEY,
  printer_id TEXT NOT NULL REFERENCES printer (id),
  from_at TEXT NOT NULL,
  until_at TEXT,
  reason TEXT NOT NULL CHECK (length(trim(reason)) >= 1),
  technician_id TEXT NOT NULL REFERENCES technician (id),
  ended_at TEXT
) STRICT;
CREATE UNIQUE INDEX printer_down_now ON printer_down (printer_id) WHERE ended_at IS NULL;

CREATE TABLE plan_pin (
  task_key TEXT PRIMARY KEY,
  starts_at TEXT NOT NULL,
  technician_id TEXT REFERENCES technician (id),
  pinned_at TEXT NOT NULL
) STRICT;

-- The newest plan alone: it follows from everything else.
CREATE TABLE day_plan (
  id TEXT PRIMARY KEY,
  begins_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_from TEXT NOT NULL,
  tasks TEXT NOT NULL CHECK (json_valid(tasks)),
  result TEXT NOT NULL CHECK (json_valid(result)),
  technician_id TEXT REFERENCES technician (id)
) STRICT;

-- A calendar that may be read by whoever has its address; the address itself is not kept.
CREATE TABLE calendar_feed (
  id TEXT PRIMARY KEY,
  token_hash TEXT NOT NULL UNIQUE,
  created_at TEXT NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  revoked_at TEXT
) STRICT;
