-- Releases: the numbered, frozen models the plant has run, with what was found and tried before each.
CREATE TABLE release (
  number INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  who TEXT NOT NULL,
  note TEXT NOT NULL,
  journal_id INTEGER NOT NULL,
  hash TEXT NOT NULL,
  model BLOB NOT NULL,
  changes INTEGER NOT NULL,
  errors INTEGER NOT NULL,
  warnings INTEGER NOT NULL,
  hints INTEGER NOT NULL,
  trial TEXT CHECK (trial IS NULL OR json_valid(trial)),
  origin TEXT,
  pause_ms REAL
);

-- Findings that somebody accepts, with the reason, until when.
CREATE TABLE accepted_finding (
  key TEXT PRIMARY KEY,
  reason TEXT NOT NULL,
  who TEXT NOT NULL,
  at TEXT NOT NULL,
  until TEXT
);
