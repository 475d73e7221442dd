-- Small instruments of the bench that this server reads by itself. What they show is kept by nobody until a person enters it.
CREATE TABLE instrument (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
  kind TEXT NOT NULL CHECK (kind IN ('probe', 'light meter', 'caliper', 'force gauge', 'scale')),
  connection TEXT NOT NULL CHECK (connection IN ('http', 'serial')),
  -- An address in this network, or the name of a serial line.
  address TEXT NOT NULL CHECK (length(address) BETWEEN 1 AND 200),
  baud INTEGER NOT NULL DEFAULT 9600 CHECK (baud BETWEEN 300 AND 115200),
  -- Off until somebody switches it on.
  is_on INTEGER NOT NULL DEFAULT 0 CHECK (is_on IN (0, 1)),
  version INTEGER NOT NULL DEFAULT 1 CHECK (version >= 1),
  created_at TEXT NOT NULL,
  retired_at TEXT
) STRICT;
