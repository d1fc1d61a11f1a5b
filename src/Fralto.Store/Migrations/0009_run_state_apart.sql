-- What the running plant keeps has a file of its own; it was copied there before this runs.
DROP TABLE alarm;
DROP TABLE alarm_event;
DROP TABLE command;
DROP TABLE memory_value;
DROP TABLE secret;
DELETE FROM meta WHERE key IN ('instance', 'demo');
