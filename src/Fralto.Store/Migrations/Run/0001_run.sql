-- What the running plant keeps, beside the model and apart from it.
CREATE TABLE note (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

-- Alarms that are not normal, so that a restart neither forgets nor raises them anew.
CREATE TABLE alarm (
    equipment_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL,
    condition TEXT NOT NULL,
    state TEXT NOT NULL,
    raised_at TEXT NOT NULL,
    raised_value REAL NOT NULL,
    cleared_at TEXT,
    acknowledged_by TEXT,
    PRIMARY KEY (equipment_id, property_id, condition)
) STRICT, WITHOUT ROWID;

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

-- What people and programs have told controllers to do, and what came of it.
CREATE TABLE command (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    who TEXT NOT NULL,
    target TEXT NOT NULL,
    before TEXT NOT NULL,
    wanted TEXT NOT NULL,
    written TEXT NOT NULL,
    outcome TEXT NOT NULL,
    reason TEXT NOT NULL
) STRICT;

-- What tags of memory hold, kept for those that say so.
CREATE TABLE memory_value (
    tag_id INTEGER PRIMARY KEY,
    value TEXT NOT NULL,
    at TEXT NOT NULL
) STRICT;

-- Passwords of controllers, encrypted, each for the place it was given for; never part of the model or its journal.
CREATE TABLE secret (
    controller_id INTEGER PRIMARY KEY,
    secret TEXT NOT NULL,
    place TEXT
) STRICT;
