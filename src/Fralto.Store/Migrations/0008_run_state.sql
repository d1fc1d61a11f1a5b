-- Every step of every alarm, so that what happened is known after a restart.
CREATE TABLE alarm_event (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    equipment_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL,
    condition TEXT NOT NULL,
    state TEXT NOT NULL,
    cause TEXT NOT NULL,
    value REAL,
    path TEXT NOT NULL,
    priority INTEGER NOT NULL,
    who TEXT
) STRICT;

-- What could not be part of a model when it was read, as it was kept.
CREATE TABLE set_aside (
    kind TEXT NOT NULL,
    entity_id INTEGER NOT NULL,
    name TEXT NOT NULL,
    why TEXT NOT NULL,
    kept TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (kind, entity_id, name, kept)
) STRICT, WITHOUT ROWID;

-- A password belongs to the place it was given for: sent nowhere else.
ALTER TABLE secret ADD COLUMN place TEXT;
