-- What was entered, in the order in which it was: each entry holds the hash of a record and of the entry before it.
CREATE TABLE lab_key (
  id TEXT PRIMARY KEY,
  public BLOB NOT NULL CHECK (length(public) = 32),
  at TEXT NOT NULL,
  reason TEXT NOT NULL CHECK (reason IN ('first', 'rotated', 'lost')),
  -- The signature of the key before it over this one; a key that was lost cannot give it.
  vouched BLOB
) STRICT;

CREATE TABLE journal (
  seq INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  -- What the clock showed, where that was before the entry before: the journal's own time does not go back.
  clock_at TEXT,
  by TEXT NOT NULL DEFAULT '',
  kind TEXT NOT NULL,
  record TEXT NOT NULL,
  change TEXT NOT NULL CHECK (change IN ('written', 'removed', 'found', 'migrated')),
  content BLOB CHECK ((content IS NULL) = (change = 'removed')),
  hash BLOB NOT NULL CHECK (length(hash) = 32),
  -- The last entry of each piece of work is signed: it vouches for all before it.
  key_id TEXT,
  signature BLOB
) STRICT;
CREATE INDEX journal_record ON journal (kind, record);
CREATE TRIGGER journal_kept BEFORE UPDATE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is added to, never edited'); END;
CREATE TRIGGER journal_stays BEFORE DELETE ON journal BEGIN SELECT RAISE(ABORT, 'the journal is added to, never shortened'); END;

-- Two samples of one second are two samples.
CREATE TABLE probe_sample_new (
  probe INTEGER NOT NULL REFERENCES probe (number),
  at_s INTEGER NOT NULL,
  number INTEGER NOT NULL DEFAULT 1 CHECK (number >= 1),
  temp_c REAL NOT NULL CHECK (temp_c BETWEEN -60 AND 150),
  humidity_pct REAL CHECK (humidity_pct BETWEEN 0 AND 100),
  PRIMARY KEY (probe, at_s, number)
) STRICT, WITHOUT ROWID;
INSERT INTO probe_sample_new (probe, at_s, temp_c, humidity_pct) SELECT probe, at_s, temp_c, humidity_pct FROM probe_sample ORDER BY probe, at_s;
DROP TABLE probe_sample;
ALTER TABLE probe_sample_new RENAME TO probe_sample;
