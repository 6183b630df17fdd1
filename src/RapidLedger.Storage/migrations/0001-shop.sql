-- The shop as it is: one row of settings, its goods, its shoppers.
CREATE TABLE store (
    id       INTEGER PRIMARY KEY CHECK (id = 1),
    document TEXT NOT NULL,
    settings TEXT NOT NULL
) STRICT;

CREATE TABLE catalogue (
    id       INTEGER PRIMARY KEY CHECK (id = 1),
    document TEXT NOT NULL
) STRICT;

CREATE TABLE shoppers (
    id       TEXT PRIMARY KEY,
    name     TEXT NOT NULL,
    groups   TEXT NOT NULL,
    orders   INTEGER NOT NULL,
    spent    INTEGER NOT NULL,
    place    TEXT
) STRICT;

CREATE TABLE carts (
    id       TEXT PRIMARY KEY,
    name     TEXT NOT NULL,
    position INTEGER NOT NULL,
    document TEXT NOT NULL
) STRICT;
