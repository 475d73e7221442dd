-- A request may be repeated: whose it was and what it asked stand beside its key, which stays when the answer is no longer kept.
CREATE TABLE request (
  key TEXT PRIMARY KEY,
  content BLOB NOT NULL,
  answer TEXT CHECK (answer IS NULL OR json_valid(answer)),
  at TEXT NOT NULL
) STRICT;
INSERT INTO request (key, content, answer, at) SELECT key, x'', answer, at FROM idempotency;
DROP TABLE idempotency;
CREATE INDEX request_at ON request (at) WHERE answer IS NOT NULL;

-- Edits of the plan say which state they were made on.
ALTER TABLE arm ADD COLUMN version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1);
