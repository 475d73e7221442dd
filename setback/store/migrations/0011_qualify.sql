-- Qualifications: a brief judged against a set and its evidence, signed, append-only, chained by SHA-256.

CREATE TABLE qualification (
  id TEXT PRIMARY KEY,
  code TEXT NOT NULL UNIQUE,
  chain INTEGER NOT NULL UNIQUE CHECK (chain >= 1),
  brief_version_id TEXT NOT NULL REFERENCES brief_version (id),
  parameter_set_id TEXT NOT NULL REFERENCES parameter_set (id),
  verdict TEXT NOT NULL CHECK (verdict IN ('qualified', 'conditional', 'not qualified')),
  scope TEXT NOT NULL DEFAULT '',
  input TEXT NOT NULL CHECK (json_valid(input)),
  result TEXT NOT NULL CHECK (json_valid(result)),
  evidence_hash TEXT NOT NULL,
  technician_id TEXT NOT NULL REFERENCES technician (id),
  signed_at TEXT NOT NULL,
  core_version TEXT NOT NULL,
  previous_hash TEXT NOT NULL,
  hash TEXT NOT NULL UNIQUE
) STRICT;
CREATE INDEX qualification_set ON qualification (parameter_set_id, brief_version_id);
CREATE INDEX qualification_brief ON qualification (brief_version_id);
CREATE TRIGGER qualification_kept BEFORE UPDATE ON qualification BEGIN SELECT RAISE(ABORT, 'qualifications are append-only'); END;
CREATE TRIGGER qualification_stays BEFORE DELETE ON qualification BEGIN SELECT RAISE(ABORT, 'qualifications are append-only'); END;
