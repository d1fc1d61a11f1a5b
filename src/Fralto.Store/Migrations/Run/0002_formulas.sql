-- What formulas keep of what has been: totals, counts, windows. The state is written by the program that reads it.
CREATE TABLE formula_state (
    equipment_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL,
    piece INTEGER NOT NULL,
    signature TEXT NOT NULL,
    state BLOB NOT NULL,
    PRIMARY KEY (equipment_id, property_id, piece)
) STRICT, WITHOUT ROWID;

-- The newest of what people have entered.
CREATE TABLE entered_value (
    equipment_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL,
    value TEXT NOT NULL,
    at TEXT NOT NULL,
    who TEXT NOT NULL,
    PRIMARY KEY (equipment_id, property_id)
) STRICT, WITHOUT ROWID;
