-- Words that were renamed: a group, tag, brand, channel, a value of an option, a family. A version is read through those that came after it.
CREATE TABLE renames (
    number  INTEGER PRIMARY KEY,
    step    INTEGER NOT NULL,
    kind    TEXT NOT NULL CHECK (kind IN ('group', 'tag', 'brand', 'channel', 'option', 'family')),
    option  TEXT,
    was     TEXT NOT NULL,
    becomes TEXT NOT NULL
) STRICT;

ALTER TABLE versions ADD COLUMN renames INTEGER NOT NULL DEFAULT 0;
