-- People with accounts: who may do what, from which device, and since when. Initials stay in technician, with all history.
CREATE TABLE account (
  id TEXT PRIMARY KEY,
  technician_id TEXT NOT NULL UNIQUE REFERENCES technician (id),
  role TEXT NOT NULL CHECK (role IN ('viewer', 'technician', 'lead')),
  -- argon2id, with its own salt and settings in it.
  password_hash TEXT NOT NULL,
  password_set_at TEXT NOT NULL,
  -- Set by somebody else: it is changed at the next sign-in.
  must_change INTEGER NOT NULL DEFAULT 0 CHECK (must_change IN (0, 1)),
  created_at TEXT NOT NULL,
  revoked_at TEXT
) STRICT;

-- A browser that somebody signed in at. It is known by a secret of its own, of which only the hash is kept.
CREATE TABLE device (
  id TEXT PRIMARY KEY,
  secret_hash TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
  first_used_at TEXT NOT NULL,
  last_used_at TEXT NOT NULL,
  revoked_at TEXT
) STRICT;

-- A PIN stands at one device alone, and is hashed together with that device's secret.
CREATE TABLE device_pin (
  id TEXT PRIMARY KEY,
  device_id TEXT NOT NULL REFERENCES device (id),
  account_id TEXT NOT NULL REFERENCES account (id),
  pin_hash TEXT NOT NULL,
  set_at TEXT NOT NULL,
  wrong_tries INTEGER NOT NULL DEFAULT 0 CHECK (wrong_tries >= 0),
  UNIQUE (device_id, account_id)
) STRICT;

CREATE TABLE sign_in (
  id TEXT PRIMARY KEY,
  secret_hash TEXT NOT NULL UNIQUE,
  account_id TEXT NOT NULL REFERENCES account (id),
  device_id TEXT NOT NULL REFERENCES device (id),
  by TEXT NOT NULL CHECK (by IN ('password', 'pin', 'pairing')),
  began_at TEXT NOT NULL,
  last_used_at TEXT NOT NULL,
  confirmed_at TEXT,
  ended_at TEXT
) STRICT;
CREATE INDEX sign_in_of_account ON sign_in (account_id) WHERE ended_at IS NULL;
CREATE INDEX sign_in_of_device ON sign_in (device_id) WHERE ended_at IS NULL;
CREATE INDEX device_pin_of_account ON device_pin (account_id);
