-- Parts of templates, the levels a template stands at, and labels of templates and equipment.
CREATE TABLE template_part (
    id INTEGER PRIMARY KEY,
    template_id INTEGER NOT NULL REFERENCES template (id) DEFERRABLE INITIALLY DEFERRED,
    position INTEGER NOT NULL,
    code TEXT NOT NULL,
    name TEXT NOT NULL,
    part_template_id INTEGER NOT NULL REFERENCES template (id) DEFERRABLE INITIALLY DEFERRED,
    level TEXT NOT NULL,
    count INTEGER NOT NULL
) STRICT;
CREATE INDEX template_part_of ON template_part (template_id);

CREATE TABLE template_level (
    template_id INTEGER NOT NULL REFERENCES template (id) DEFERRABLE INITIALLY DEFERRED,
    position INTEGER NOT NULL,
    level TEXT NOT NULL,
    PRIMARY KEY (template_id, position)
) STRICT;

CREATE TABLE label (
    owner_id INTEGER NOT NULL,
    key TEXT NOT NULL,
    value TEXT NOT NULL,
    PRIMARY KEY (owner_id, key)
) STRICT, WITHOUT ROWID;

ALTER TABLE equipment ADD COLUMN part_id INTEGER;
