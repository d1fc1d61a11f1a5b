-- A state may be abnormal, and may be called otherwise by a text that a device sends.
ALTER TABLE state ADD COLUMN abnormal INTEGER NOT NULL DEFAULT 0;
ALTER TABLE state ADD COLUMN key TEXT;
