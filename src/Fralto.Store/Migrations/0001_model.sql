CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;

CREATE TABLE state_set (id INTEGER PRIMARY KEY, code TEXT NOT NULL COLLATE NOCASE UNIQUE, name TEXT NOT NULL) STRICT;

CREATE TABLE state (
    state_set_id INTEGER NOT NULL REFERENCES state_set (id) DEFERRABLE INITIALLY DEFERRED,
    value INTEGER NOT NULL,
    name TEXT NOT NULL,
    PRIMARY KEY (state_set_id, value)
) STRICT, WITHOUT ROWID;

CREATE TABLE template (
    id INTEGER PRIMARY KEY,
    code TEXT NOT NULL COLLATE NOCASE UNIQUE,
    name TEXT NOT NULL,
    parent_id INTEGER REFERENCES template (id) DEFERRABLE INITIALLY DEFERRED,
    description TEXT NOT NULL
) STRICT;

CREATE TABLE property (
    id INTEGER PRIMARY KEY,
    template_id INTEGER NOT NULL REFERENCES template (id) DEFERRABLE INITIALLY DEFERRED,
    position INTEGER NOT NULL,
    code TEXT NOT NULL COLLATE NOCASE,
    name TEXT NOT NULL,
    kind TEXT NOT NULL,
    type TEXT NOT NULL
) STRICT;

CREATE INDEX property_template ON property (template_id, position);

CREATE TABLE equipment (
    id INTEGER PRIMARY KEY,
    code TEXT NOT NULL COLLATE NOCASE,
    name TEXT NOT NULL,
    level TEXT NOT NULL,
    parent_id INTEGER REFERENCES equipment (id) DEFERRABLE INITIALLY DEFERRED,
    template_id INTEGER REFERENCES template (id) DEFERRABLE INITIALLY DEFERRED,
    position INTEGER NOT NULL
) STRICT;

CREATE INDEX equipment_parent ON equipment (parent_id, position);

-- What one layer, a template or an instance, says about one property: a sparse JSON object.
CREATE TABLE property_patch (
    layer_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL REFERENCES property (id) DEFERRABLE INITIALLY DEFERRED,
    facts TEXT NOT NULL CHECK (json_valid(facts)),
    PRIMARY KEY (layer_id, property_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE controller (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL COLLATE NOCASE UNIQUE,
    host TEXT NOT NULL,
    port INTEGER NOT NULL,
    unit_id INTEGER NOT NULL,
    update_interval_ms INTEGER NOT NULL
) STRICT;

CREATE TABLE tag (
    id INTEGER PRIMARY KEY,
    controller_id INTEGER NOT NULL REFERENCES controller (id) DEFERRABLE INITIALLY DEFERRED,
    name TEXT NOT NULL COLLATE NOCASE,
    area TEXT NOT NULL,
    address INTEGER NOT NULL,
    type TEXT NOT NULL,
    word_order TEXT NOT NULL,
    description TEXT NOT NULL
) STRICT;

CREATE INDEX tag_controller ON tag (controller_id);

CREATE TABLE binding (
    equipment_id INTEGER NOT NULL REFERENCES equipment (id) DEFERRABLE INITIALLY DEFERRED,
    property_id INTEGER NOT NULL REFERENCES property (id) DEFERRABLE INITIALLY DEFERRED,
    tag_id INTEGER NOT NULL REFERENCES tag (id) DEFERRABLE INITIALLY DEFERRED,
    PRIMARY KEY (equipment_id, property_id)
) STRICT, WITHOUT ROWID;

CREATE INDEX binding_tag ON binding (tag_id);

-- One row for each edit; changes is a JSON array of the entities before and after.
CREATE TABLE journal (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    who TEXT NOT NULL,
    summary TEXT NOT NULL,
    changes TEXT NOT NULL CHECK (json_valid(changes))
) STRICT;

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
