-- Where telling each list of each alarm stands, so that a restart tells nobody twice and forgets nobody.
CREATE TABLE notice (
    equipment_id INTEGER NOT NULL,
    property_id INTEGER NOT NULL,
    condition TEXT NOT NULL,
    list TEXT NOT NULL,
    state TEXT NOT NULL CHECK (json_valid(state)),
    PRIMARY KEY (equipment_id, property_id, condition, list)
) WITHOUT ROWID;

-- What an alarm says in other languages, a line each: de = ...; and whether a step was told of late.
ALTER TABLE alarm ADD COLUMN translations TEXT NOT NULL DEFAULT '';
ALTER TABLE alarm_event ADD COLUMN translations TEXT NOT NULL DEFAULT '';
