-- Naming rules kept with templates, tags refused at instances, and who checked a binding on the plant.
ALTER TABLE template ADD COLUMN rules TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(rules));
ALTER TABLE equipment ADD COLUMN refused TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(refused));
ALTER TABLE binding ADD COLUMN checked TEXT CHECK (checked IS NULL OR json_valid(checked));
