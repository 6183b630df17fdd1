-- Codes made or brought by the many, for one promotion; found without hyphens and spaces.
CREATE TABLE batches (
    id        TEXT PRIMARY KEY,
    note      TEXT NOT NULL,
    made_at   TEXT NOT NULL,
    uses_each INTEGER,
    last_day  TEXT,
    void      INTEGER NOT NULL DEFAULT 0,
    codes     INTEGER NOT NULL DEFAULT 0,
    used      INTEGER NOT NULL DEFAULT 0,
    voided    INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE codes (
    bare         TEXT PRIMARY KEY,
    written      TEXT NOT NULL,
    batch_id     TEXT NOT NULL REFERENCES batches (id),
    void         INTEGER NOT NULL DEFAULT 0,
    used         INTEGER NOT NULL DEFAULT 0,
    drawn        INTEGER NOT NULL DEFAULT 0,
    last_used_at INTEGER,
    note         TEXT
) STRICT, WITHOUT ROWID;

CREATE INDEX codes_of_batches ON codes (batch_id, bare);

-- How many of a batch are used or void is counted as it happens.
CREATE TRIGGER codes_count_used AFTER UPDATE OF used ON codes WHEN (new.used > 0) <> (old.used > 0) BEGIN
    UPDATE batches SET used = used + CASE WHEN new.used > 0 THEN 1 ELSE -1 END WHERE id = new.batch_id;
END;
CREATE TRIGGER codes_count_void AFTER UPDATE OF void ON codes WHEN new.void <> old.void BEGIN
    UPDATE batches SET voided = voided + new.void - old.void WHERE id = new.batch_id;
END;

-- A cart that was priced under an edition and accepted. Amounts in minor units; the store's date is kept as a date.
CREATE TABLE orders (
    id         TEXT PRIMARY KEY,
    state      TEXT NOT NULL CHECK (state IN ('held', 'taken', 'givenBack', 'lapsed')),
    placed_at  INTEGER NOT NULL,
    day        TEXT NOT NULL,
    held_until INTEGER,
    edition    INTEGER NOT NULL,
    shopper    TEXT,
    rehearsal  INTEGER NOT NULL,
    total      INTEGER NOT NULL,
    cart       TEXT NOT NULL,
    result     TEXT NOT NULL,
    returned   TEXT,
    change     INTEGER NOT NULL
) STRICT;

CREATE UNIQUE INDEX orders_by_change ON orders (change);
CREATE INDEX orders_held ON orders (held_until) WHERE state = 'held';
CREATE INDEX orders_by_shopper ON orders (shopper, state) WHERE shopper IS NOT NULL;

CREATE TABLE order_codes (
    order_id TEXT NOT NULL REFERENCES orders (id),
    bare     TEXT NOT NULL,
    drawn    INTEGER NOT NULL,
    PRIMARY KEY (order_id, bare)
) STRICT, WITHOUT ROWID;

CREATE INDEX orders_of_codes ON order_codes (bare);

CREATE TABLE order_units (
    order_id TEXT NOT NULL REFERENCES orders (id),
    sku      TEXT NOT NULL,
    units    INTEGER NOT NULL,
    PRIMARY KEY (order_id, sku)
) STRICT, WITHOUT ROWID;

-- Of each SKU, what orders have bought and been given since its stock was set.
CREATE TABLE sold (
    sku   TEXT PRIMARY KEY,
    units INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- The answer to a call that changed something, kept as long as what it changed.
CREATE TABLE answers (
    caller   TEXT NOT NULL,
    key      TEXT NOT NULL,
    asked    TEXT NOT NULL,
    status   INTEGER NOT NULL,
    answer   TEXT NOT NULL,
    PRIMARY KEY (caller, key)
) STRICT, WITHOUT ROWID;

CREATE TABLE store_keys (
    id           TEXT PRIMARY KEY,
    kind         TEXT NOT NULL CHECK (kind IN ('server', 'page')),
    name         TEXT NOT NULL,
    hash         TEXT NOT NULL UNIQUE,
    made_at      TEXT NOT NULL,
    withdrawn_at TEXT
) STRICT;

-- With which guests' addresses are hashed; never leaves the store.
CREATE TABLE secrets (
    id    INTEGER PRIMARY KEY CHECK (id = 1),
    guest BLOB NOT NULL
) STRICT;
INSERT INTO secrets (id, guest) VALUES (1, randomblob(32));

-- A use belongs to an order, counts on the store's date of its placing, and no longer counts when the order is given back.
ALTER TABLE redemptions ADD COLUMN order_id TEXT REFERENCES orders (id);
ALTER TABLE redemptions ADD COLUMN day TEXT NOT NULL DEFAULT '';
ALTER TABLE redemptions ADD COLUMN drawn INTEGER NOT NULL DEFAULT 0;
ALTER TABLE redemptions ADD COLUMN counts INTEGER NOT NULL DEFAULT 1;
UPDATE redemptions SET day = date(at, 'unixepoch');
ALTER TABLE uses ADD COLUMN drawn INTEGER NOT NULL DEFAULT 0;
CREATE INDEX redemptions_of_orders ON redemptions (order_id) WHERE order_id IS NOT NULL;
CREATE INDEX redemptions_by_day ON redemptions (day, promotion_id, at) WHERE counts;

CREATE TABLE day_uses (
    day          TEXT NOT NULL,
    promotion_id TEXT NOT NULL,
    uses         INTEGER NOT NULL,
    PRIMARY KEY (day, promotion_id)
) STRICT, WITHOUT ROWID;
INSERT INTO day_uses SELECT day, promotion_id, count(*) FROM redemptions GROUP BY day, promotion_id;

DROP TRIGGER uses_count;
CREATE TRIGGER uses_begin AFTER INSERT ON redemptions WHEN new.counts BEGIN
    INSERT INTO uses (promotion_id, uses, amount, drawn) VALUES (new.promotion_id, 1, new.amount, new.drawn)
    ON CONFLICT DO UPDATE SET uses = uses + 1, amount = amount + excluded.amount, drawn = drawn + excluded.drawn;
    INSERT INTO daily_uses VALUES (new.at / 86400, new.promotion_id, 1, new.amount)
    ON CONFLICT DO UPDATE SET uses = uses + 1, amount = amount + excluded.amount;
    INSERT INTO day_uses VALUES (new.day, new.promotion_id, 1) ON CONFLICT DO UPDATE SET uses = uses + 1;
    INSERT INTO shopper_uses SELECT new.shopper_id, new.promotion_id, 1 WHERE new.shopper_id IS NOT NULL
    ON CONFLICT DO UPDATE SET uses = uses + 1;
END;
CREATE TRIGGER uses_move AFTER UPDATE OF counts ON redemptions WHEN new.counts <> old.counts BEGIN
    UPDATE uses SET uses = uses + new.counts - old.counts, amount = amount + (new.counts - old.counts) * new.amount, drawn = drawn + (new.counts - old.counts) * new.drawn
    WHERE promotion_id = new.promotion_id;
    UPDATE daily_uses SET uses = uses + new.counts - old.counts, amount = amount + (new.counts - old.counts) * new.amount WHERE day = new.at / 86400 AND promotion_id = new.promotion_id;
    UPDATE day_uses SET uses = uses + new.counts - old.counts WHERE day = new.day AND promotion_id = new.promotion_id;
    UPDATE shopper_uses SET uses = uses + new.counts - old.counts WHERE shopper_id = new.shopper_id AND promotion_id = new.promotion_id;
END;

-- Goes up when promotions or editions are written, so that orders do not make everybody read them anew; and when something is used up or made void.
CREATE TABLE written (
    id         INTEGER PRIMARY KEY CHECK (id = 1),
    promotions INTEGER NOT NULL,
    uses       INTEGER NOT NULL
) STRICT;
INSERT INTO written (id, promotions, uses) VALUES (1, 0, 0);
CREATE TRIGGER written_order AFTER INSERT ON orders BEGIN UPDATE written SET uses = uses + 1; END;
CREATE TRIGGER written_move AFTER UPDATE OF state ON orders BEGIN UPDATE written SET uses = uses + 1; END;
CREATE TRIGGER written_void AFTER UPDATE OF void ON codes BEGIN UPDATE written SET uses = uses + 1; END;
CREATE TRIGGER written_batch_void AFTER UPDATE OF void ON batches BEGIN UPDATE written SET uses = uses + 1; END;
CREATE TRIGGER written_promotion AFTER INSERT ON promotions BEGIN UPDATE written SET promotions = promotions + 1; END;
CREATE TRIGGER written_change AFTER UPDATE ON promotions BEGIN UPDATE written SET promotions = promotions + 1; END;
CREATE TRIGGER written_away AFTER DELETE ON promotions BEGIN UPDATE written SET promotions = promotions + 1; END;
CREATE TRIGGER written_edition AFTER INSERT ON editions BEGIN UPDATE written SET promotions = promotions + 1; END;
CREATE TRIGGER written_batch AFTER INSERT ON batches BEGIN UPDATE written SET promotions = promotions + 1; END;
