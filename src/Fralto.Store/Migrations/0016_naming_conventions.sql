-- How codes and names are written in this plant: a pattern of a level or of a template.
CREATE TABLE naming_convention (
    id INTEGER PRIMARY KEY,
    level TEXT,
    template_id INTEGER,
    is_of_names INTEGER NOT NULL,
    text TEXT NOT NULL
) STRICT;
