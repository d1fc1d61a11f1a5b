-- Whether every instance needs a tag for a property.
ALTER TABLE property ADD COLUMN required INTEGER NOT NULL DEFAULT 1;
