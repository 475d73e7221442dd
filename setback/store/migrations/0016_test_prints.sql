-- A group's specimens are spread over several prints: specimens of one print are alike.
CREATE TABLE test_print (
  id TEXT PRIMARY KEY,
  group_id TEXT NOT NULL REFERENCES test_group (id),
  print_id TEXT NOT NULL UNIQUE REFERENCES print (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  cured_at TEXT,
  UNIQUE (group_id, number)
) STRICT;
INSERT INTO test_print (id, group_id, print_id, number, cured_at)
  SELECT print_id, id, print_id, 1, cured_at FROM test_group WHERE print_id IS NOT NULL;

DROP INDEX test_group_print;
ALTER TABLE test_group DROP COLUMN print_id;
-- The cure of a group without a print of ours stays where it was noted.
UPDATE test_group SET cured_at = NULL WHERE id IN (SELECT group_id FROM test_print);
