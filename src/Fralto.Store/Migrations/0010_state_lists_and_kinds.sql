-- What names the values of an integer is a state list.
ALTER TABLE state_set RENAME TO state_list;
ALTER TABLE state RENAME COLUMN state_set_id TO state_list_id;
UPDATE property_patch SET facts = replace(facts, '"stateSetId":', '"stateListId":') WHERE facts LIKE '%"stateSetId":%';

-- The journal names the kinds of entities by identifiers of their own, no longer by the names of the program's types.
UPDATE journal SET changes =
    replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(replace(changes,
        '"stateSetId":', '"stateListId":'),
        '{"kind":"StateSet"', '{"kind":"state-list"'),
        '{"kind":"OwnUnit"', '{"kind":"unit"'),
        '{"kind":"LibraryScale"', '{"kind":"scale"'),
        '{"kind":"Template"', '{"kind":"template"'),
        '{"kind":"Equipment"', '{"kind":"equipment"'),
        '{"kind":"Controller"', '{"kind":"controller"'),
        '{"kind":"Tag"', '{"kind":"tag"'),
        '{"kind":"DeviceLayout"', '{"kind":"layout"'),
        '{"kind":"Device"', '{"kind":"device"'),
        '{"kind":"PropertyBinding"', '{"kind":"binding"');
