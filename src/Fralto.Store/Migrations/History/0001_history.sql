-- What was: chunks of some hundred values each, and what they amount to. docs/history-format.md
CREATE TABLE note (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

-- A point that is recorded: a property of an instance.
CREATE TABLE series (
    id INTEGER PRIMARY KEY,
    equipment_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL,
    UNIQUE (equipment_id, property_id)
) STRICT;

-- From the numbers of a chunk to values: the scale that was in force.
CREATE TABLE scaling (id INTEGER PRIMARY KEY, facts TEXT NOT NULL UNIQUE) STRICT;

CREATE TABLE chunk (
    id INTEGER PRIMARY KEY,
    series_id INTEGER NOT NULL,
    first INTEGER NOT NULL,
    last INTEGER NOT NULL,
    count INTEGER NOT NULL,
    late INTEGER NOT NULL,
    scaling_id INTEGER NOT NULL,
    data BLOB NOT NULL
) STRICT;
CREATE INDEX chunk_by_time ON chunk (series_id, last, first);

-- Chunks that were open when the journal was begun anew.
CREATE TABLE open_chunk (series_id INTEGER PRIMARY KEY, scaling_id INTEGER NOT NULL, data BLOB NOT NULL) STRICT;

-- Values since then, as they came.
CREATE TABLE journal (id INTEGER PRIMARY KEY AUTOINCREMENT, data BLOB NOT NULL) STRICT;

-- Minutes, hours and days, some together.
CREATE TABLE rollup (
    series_id INTEGER NOT NULL,
    step INTEGER NOT NULL,
    start INTEGER NOT NULL,
    data BLOB NOT NULL
) STRICT;
CREATE UNIQUE INDEX rollup_by_time ON rollup (series_id, step, start);

-- The limits of a point from a time on, until the next.
CREATE TABLE limits (
    series_id INTEGER NOT NULL,
    since INTEGER NOT NULL,
    facts TEXT NOT NULL,
    PRIMARY KEY (series_id, since)
) STRICT, WITHOUT ROWID;

-- Who handed in values of the past, and when.
CREATE TABLE entry (
    id INTEGER PRIMARY KEY,
    series_id INTEGER NOT NULL,
    at INTEGER NOT NULL,
    who TEXT NOT NULL,
    first INTEGER NOT NULL,
    last INTEGER NOT NULL,
    count INTEGER NOT NULL
) STRICT;
