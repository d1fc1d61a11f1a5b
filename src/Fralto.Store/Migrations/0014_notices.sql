-- Who is told of alarms, through which server, in which languages messages are written, and how long the log of alarms is kept.
ALTER TABLE alarm_setup ADD COLUMN lists TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(lists));
ALTER TABLE alarm_setup ADD COLUMN mail TEXT CHECK (mail IS NULL OR json_valid(mail));
ALTER TABLE alarm_setup ADD COLUMN languages TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(languages));
ALTER TABLE alarm_setup ADD COLUMN log_days INTEGER NOT NULL DEFAULT 400;
