-- Goods one by one, so that a change is a change of rows. Documents are as in a case; a variant's product stands beside it.
CREATE TABLE goods (
    position INTEGER PRIMARY KEY,
    kind     TEXT NOT NULL CHECK (kind IN ('category', 'product', 'variant')),
    id       TEXT NOT NULL,
    product  TEXT,
    document TEXT NOT NULL,
    UNIQUE (kind, id)
) STRICT;

INSERT INTO goods (kind, id, document)
SELECT 'category', value ->> '$.id', value FROM catalogue, json_each(document, '$.categories') ORDER BY key;
INSERT INTO goods (kind, id, document)
SELECT 'product', value ->> '$.id', json_remove(value, '$.variants') FROM catalogue, json_each(document, '$.products') ORDER BY key;
INSERT INTO goods (kind, id, product, document)
SELECT 'variant', variant.value ->> '$.sku', product.value ->> '$.id', variant.value
FROM catalogue, json_each(document, '$.products') AS product, json_each(product.value, '$.variants') AS variant ORDER BY product.key, variant.key;
DROP TABLE catalogue;

-- What was done to goods, shoppers and settings, step by step. A step is written row by row, which nobody sees; then it counts, all at once;
-- then it settles: its rows are brought to where they belong. Until then whoever reads puts them over what stands there. What a shop's server
-- writes within an hour is one step: the later ones are parts of the first.
CREATE TABLE steps (
    number     INTEGER PRIMARY KEY,
    source     TEXT NOT NULL CHECK (source IN ('app', 'file', 'server')),
    who        TEXT NOT NULL,
    what       TEXT NOT NULL,
    at         TEXT NOT NULL,
    counted    INTEGER,
    settled    INTEGER NOT NULL DEFAULT 0,
    part_of    INTEGER,
    takes_back INTEGER,
    taken_back INTEGER
) STRICT;
CREATE INDEX steps_by_counted ON steps (counted);
CREATE INDEX steps_unsettled ON steps (number) WHERE NOT settled;
CREATE INDEX steps_by_whole ON steps (part_of) WHERE part_of IS NOT NULL;

-- Of each row the members that a step wrote: as they were (none: there was no such row), and as they are then; null empties one.
CREATE TABLE step_rows (
    step   INTEGER NOT NULL REFERENCES steps (number) ON DELETE CASCADE,
    place  INTEGER NOT NULL,
    kind   TEXT NOT NULL,
    id     TEXT NOT NULL,
    before TEXT,
    after  TEXT NOT NULL,
    PRIMARY KEY (step, place)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX step_rows_by_id ON step_rows (kind, id, step);

-- The numbers of the last step that changed goods, of the last that changed settings, and of the last that was forgotten.
ALTER TABLE written ADD COLUMN steps INTEGER NOT NULL DEFAULT 0;
ALTER TABLE written ADD COLUMN goods INTEGER NOT NULL DEFAULT 0;
ALTER TABLE written ADD COLUMN settings INTEGER NOT NULL DEFAULT 0;
ALTER TABLE written ADD COLUMN forgotten INTEGER NOT NULL DEFAULT 0;
ALTER TABLE shoppers ADD COLUMN language TEXT;

-- What the columns of files with the same headings were said to be.
CREATE TABLE column_matches (
    headings TEXT PRIMARY KEY,
    fields   TEXT NOT NULL
) STRICT, WITHOUT ROWID;
