-- A promotion is written in a draft, kept as typed; saving makes a version, which never changes.
CREATE TABLE promotions (
    id         TEXT PRIMARY KEY,
    state      TEXT NOT NULL CHECK (state IN ('draft', 'live', 'paused', 'archived')),
    version    INTEGER,
    draft      TEXT,
    revision   INTEGER NOT NULL,
    touched_at TEXT NOT NULL,
    FOREIGN KEY (id, version) REFERENCES versions (promotion_id, version) DEFERRABLE INITIALLY DEFERRED
) STRICT;

CREATE TABLE versions (
    promotion_id TEXT NOT NULL REFERENCES promotions (id) DEFERRABLE INITIALLY DEFERRED,
    version      INTEGER NOT NULL,
    document     TEXT NOT NULL,
    saved_at     TEXT NOT NULL,
    PRIMARY KEY (promotion_id, version)
) STRICT;

-- An edition is the set of live versions as published at one moment: those whose span holds its number.
CREATE TABLE editions (
    number       INTEGER PRIMARY KEY,
    published_at TEXT NOT NULL
) STRICT;

CREATE TABLE edition_spans (
    promotion_id TEXT NOT NULL,
    version      INTEGER NOT NULL,
    first        INTEGER NOT NULL REFERENCES editions (number),
    last         INTEGER REFERENCES editions (number),
    PRIMARY KEY (promotion_id, first),
    FOREIGN KEY (promotion_id, version) REFERENCES versions (promotion_id, version)
) STRICT;

CREATE UNIQUE INDEX one_open_span ON edition_spans (promotion_id) WHERE last IS NULL;

-- One use of a promotion by one order; the amount in minor units of the base currency.
CREATE TABLE redemptions (
    id           INTEGER PRIMARY KEY,
    promotion_id TEXT NOT NULL REFERENCES promotions (id),
    shopper_id   TEXT,
    at           INTEGER NOT NULL,
    amount       INTEGER NOT NULL
) STRICT;

CREATE INDEX redemptions_by_promotion ON redemptions (promotion_id, at);
