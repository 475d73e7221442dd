-- Which drivers there are is told by the code that has them: the database takes any.
ALTER TABLE probe ADD COLUMN read_by TEXT NOT NULL DEFAULT 'hand';
UPDATE probe SET read_by = driver;
ALTER TABLE probe DROP COLUMN driver;
ALTER TABLE probe RENAME COLUMN read_by TO driver;
