-- Controllers of any protocol: the connection is kept as one entry; tags say their address as their protocol writes it.
ALTER TABLE controller ADD COLUMN connection TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(connection));
ALTER TABLE controller ADD COLUMN update_classes TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(update_classes));
UPDATE controller SET connection = json_object('host', host, 'port', port, 'unitId', unit_id);
ALTER TABLE controller DROP COLUMN host;
ALTER TABLE controller DROP COLUMN port;
ALTER TABLE controller DROP COLUMN unit_id;

ALTER TABLE tag ADD COLUMN place TEXT NOT NULL DEFAULT '';
UPDATE tag SET place = CASE area WHEN 'Coil' THEN 'coil ' WHEN 'DiscreteInput' THEN 'discrete ' WHEN 'InputRegister' THEN 'input '
    ELSE 'holding ' END || address;
ALTER TABLE tag DROP COLUMN area;
ALTER TABLE tag DROP COLUMN address;
ALTER TABLE tag ADD COLUMN update_class TEXT;
ALTER TABLE tag ADD COLUMN range_low REAL;
ALTER TABLE tag ADD COLUMN range_high REAL;
ALTER TABLE tag ADD COLUMN device_id INTEGER REFERENCES device (id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE tag ADD COLUMN point_id INTEGER;

-- What kinds of devices expose, and the devices whose tags follow from it.
CREATE TABLE device_layout (
    id INTEGER PRIMARY KEY,
    code TEXT NOT NULL COLLATE NOCASE UNIQUE,
    name TEXT NOT NULL,
    separator TEXT NOT NULL,
    points TEXT NOT NULL CHECK (json_valid(points))
) STRICT;

CREATE TABLE device (
    id INTEGER PRIMARY KEY,
    controller_id INTEGER NOT NULL REFERENCES controller (id) DEFERRABLE INITIALLY DEFERRED,
    layout_id INTEGER NOT NULL REFERENCES device_layout (id) DEFERRABLE INITIALLY DEFERRED,
    name TEXT NOT NULL COLLATE NOCASE,
    base INTEGER NOT NULL,
    bit_base INTEGER NOT NULL,
    unit_id INTEGER
) STRICT;

-- What stands in for a tag while it is simulated.
ALTER TABLE binding ADD COLUMN simulation TEXT CHECK (simulation IS NULL OR json_valid(simulation));

-- Passwords of controllers, encrypted; never part of the model or its journal.
CREATE TABLE secret (
    controller_id INTEGER PRIMARY KEY,
    secret TEXT NOT NULL
) STRICT;

-- What tags of memory hold, kept for those that say so.
CREATE TABLE memory_value (
    tag_id INTEGER PRIMARY KEY,
    value TEXT NOT NULL,
    at TEXT NOT NULL
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
