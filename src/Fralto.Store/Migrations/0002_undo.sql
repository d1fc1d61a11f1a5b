-- An entry is an edit, or takes back (undo) or makes again (redo) the entry it names.
ALTER TABLE journal ADD COLUMN kind TEXT NOT NULL DEFAULT 'Edit';
ALTER TABLE journal ADD COLUMN target INTEGER REFERENCES journal (id);

-- Which equipment an entry touched, itself or its parent: the journal of a place.
CREATE TABLE journal_place (
    journal_id INTEGER NOT NULL REFERENCES journal (id),
    equipment_id INTEGER NOT NULL,
    PRIMARY KEY (equipment_id, journal_id)
) STRICT, WITHOUT ROWID;
