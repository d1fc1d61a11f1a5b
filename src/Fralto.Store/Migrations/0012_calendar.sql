-- Time zone and shifts of the plant.
CREATE TABLE calendar (id INTEGER PRIMARY KEY, time_zone TEXT NOT NULL, shifts TEXT NOT NULL CHECK (json_valid(shifts))) STRICT;
