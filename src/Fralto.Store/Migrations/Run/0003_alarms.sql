-- What is known of an alarm beside its state: whether its condition is there, who has seen it and what was said, what it says, and why it
-- is put away.
ALTER TABLE alarm ADD COLUMN is_true INTEGER NOT NULL DEFAULT 0;
ALTER TABLE alarm ADD COLUMN acknowledged_at TEXT;
ALTER TABLE alarm ADD COLUMN comment TEXT NOT NULL DEFAULT '';
ALTER TABLE alarm ADD COLUMN message TEXT NOT NULL DEFAULT '';
ALTER TABLE alarm ADD COLUMN captured TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(captured));
ALTER TABLE alarm ADD COLUMN shelving TEXT CHECK (shelving IS NULL OR json_valid(shelving));
ALTER TABLE alarm ADD COLUMN leave TEXT CHECK (leave IS NULL OR json_valid(leave));
ALTER TABLE alarm ADD COLUMN is_suppressed INTEGER NOT NULL DEFAULT 0;
UPDATE alarm SET is_true = 1 WHERE state IN ('Unacknowledged', 'Acknowledged');

ALTER TABLE alarm_event ADD COLUMN limit_code TEXT NOT NULL DEFAULT '';
ALTER TABLE alarm_event ADD COLUMN message TEXT NOT NULL DEFAULT '';
ALTER TABLE alarm_event ADD COLUMN comment TEXT NOT NULL DEFAULT '';
ALTER TABLE alarm_event ADD COLUMN source_at TEXT;
UPDATE alarm_event SET limit_code = CASE condition WHEN 'HighHigh' THEN 'HH' WHEN 'High' THEN 'H' WHEN 'Low' THEN 'L' ELSE 'LL' END;

-- The log is read by time, by place and by urgency, the newest first.
CREATE INDEX alarm_event_at ON alarm_event (at);
CREATE INDEX alarm_event_equipment ON alarm_event (equipment_id, id);
CREATE INDEX alarm_event_priority ON alarm_event (priority, id);
CREATE INDEX alarm_event_who ON alarm_event (who, id) WHERE who IS NOT NULL;
