-- A customer's own units and the library of named scales.
CREATE TABLE own_unit (
    id INTEGER PRIMARY KEY,
    code TEXT NOT NULL COLLATE NOCASE UNIQUE,
    symbol TEXT NOT NULL,
    name TEXT NOT NULL,
    factor REAL NOT NULL,
    base_code TEXT NOT NULL
) STRICT;

CREATE TABLE library_scale (
    id INTEGER PRIMARY KEY,
    code TEXT NOT NULL COLLATE NOCASE UNIQUE,
    name TEXT NOT NULL,
    description TEXT NOT NULL,
    scale TEXT NOT NULL CHECK (json_valid(scale))
) STRICT;

-- Arrays and texts, the unit a device gives, and the part of a tag a property is bound to.
ALTER TABLE tag ADD COLUMN count INTEGER NOT NULL DEFAULT 1;
ALTER TABLE tag ADD COLUMN unit TEXT;
ALTER TABLE binding ADD COLUMN slice TEXT;
