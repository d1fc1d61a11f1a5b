-- How much of each series is kept, carried along: a history of gigabytes is not read to be counted.
CREATE TABLE extent (
    series_id INTEGER PRIMARY KEY,
    count INTEGER NOT NULL,
    bytes INTEGER NOT NULL,
    rollup_bytes INTEGER NOT NULL
) STRICT;

INSERT INTO extent (series_id, count, bytes, rollup_bytes)
SELECT series_id, sum(count), sum(bytes), sum(rollup_bytes) FROM (
    SELECT series_id, count, length(data) AS bytes, 0 AS rollup_bytes FROM chunk
    UNION ALL
    SELECT series_id, 0, 0, length(data) FROM rollup
) GROUP BY series_id;

CREATE TRIGGER chunk_kept AFTER INSERT ON chunk BEGIN
    INSERT INTO extent (series_id, count, bytes, rollup_bytes) VALUES (NEW.series_id, NEW.count, length(NEW.data), 0)
    ON CONFLICT (series_id) DO UPDATE SET count = count + excluded.count, bytes = bytes + excluded.bytes;
END;

CREATE TRIGGER chunk_gone AFTER DELETE ON chunk BEGIN
    UPDATE extent SET count = count - OLD.count, bytes = bytes - length(OLD.data) WHERE series_id = OLD.series_id;
END;

CREATE TRIGGER rollup_kept AFTER INSERT ON rollup BEGIN
    INSERT INTO extent (series_id, count, bytes, rollup_bytes) VALUES (NEW.series_id, 0, 0, length(NEW.data))
    ON CONFLICT (series_id) DO UPDATE SET rollup_bytes = rollup_bytes + excluded.rollup_bytes;
END;

CREATE TRIGGER rollup_changed AFTER UPDATE OF data ON rollup BEGIN
    UPDATE extent SET rollup_bytes = rollup_bytes - length(OLD.data) + length(NEW.data) WHERE series_id = NEW.series_id;
END;

CREATE TRIGGER rollup_gone AFTER DELETE ON rollup BEGIN
    UPDATE extent SET rollup_bytes = rollup_bytes - length(OLD.data) WHERE series_id = OLD.series_id;
END;
