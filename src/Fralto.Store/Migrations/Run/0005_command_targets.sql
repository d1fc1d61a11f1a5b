-- Commands are looked for by what they were given to, in a stretch of time.
CREATE INDEX command_by_target ON command (target, at);
