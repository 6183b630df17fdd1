-- Shoppers are found by any three letters in a row of name, id or group. Each has a number of its own by which the index knows it: the
-- number that SQLite gives a row by itself may be another after the file was compacted.
CREATE TABLE numbered_shoppers (
    number        INTEGER PRIMARY KEY,
    id            TEXT NOT NULL UNIQUE,
    name          TEXT NOT NULL,
    groups        TEXT NOT NULL,
    orders        INTEGER NOT NULL,
    spent         INTEGER NOT NULL,
    place         TEXT,
    placed_orders INTEGER NOT NULL DEFAULT 0,
    placed_spent  INTEGER NOT NULL DEFAULT 0,
    language      TEXT
) STRICT;
INSERT INTO numbered_shoppers (id, name, groups, orders, spent, place, placed_orders, placed_spent, language)
SELECT id, name, groups, orders, spent, place, placed_orders, placed_spent, language FROM shoppers ORDER BY id;
DROP TABLE shoppers;
ALTER TABLE numbered_shoppers RENAME TO shoppers;
-- A page of them by name, and how many are in each group.
CREATE INDEX shoppers_by_name ON shoppers (name, id);
CREATE INDEX shoppers_by_groups ON shoppers (groups);

CREATE VIRTUAL TABLE shopper_words USING fts5 (name, id, groups, content = 'shoppers', content_rowid = 'number', tokenize = 'trigram');
-- Who is forgotten is not found in what was freed either.
INSERT INTO shopper_words (shopper_words, rank) VALUES ('secure-delete', 1);
INSERT INTO shopper_words (shopper_words) VALUES ('rebuild');

CREATE TRIGGER shopper_words_added AFTER INSERT ON shoppers BEGIN
    INSERT INTO shopper_words (rowid, name, id, groups) VALUES (new.number, new.name, new.id, new.groups);
END;
CREATE TRIGGER shopper_words_removed AFTER DELETE ON shoppers BEGIN
    INSERT INTO shopper_words (shopper_words, rowid, name, id, groups) VALUES ('delete', old.number, old.name, old.id, old.groups);
END;
CREATE TRIGGER shopper_words_changed AFTER UPDATE OF name, id, groups ON shoppers BEGIN
    INSERT INTO shopper_words (shopper_words, rowid, name, id, groups) VALUES ('delete', old.number, old.name, old.id, old.groups);
    INSERT INTO shopper_words (rowid, name, id, groups) VALUES (new.number, new.name, new.id, new.groups);
END;
