-- How codes are written in this plant: a pattern of a level or of a template.
CREATE TABLE code_pattern (
    id INTEGER PRIMARY KEY,
    level TEXT,
    template_id INTEGER,
    text TEXT NOT NULL
) STRICT;
