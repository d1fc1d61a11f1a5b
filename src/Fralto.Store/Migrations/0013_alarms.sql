-- What alarms share: the rules by which they are shelved, and what they set off.
CREATE TABLE alarm_setup (
    id INTEGER PRIMARY KEY,
    rules TEXT NOT NULL CHECK (json_valid(rules)),
    responses TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(responses))
) STRICT;
