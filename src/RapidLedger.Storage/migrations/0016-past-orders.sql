-- Orders from before, brought in as files. They use up nothing and have no edition; a number of one source stands here once. Amounts in
-- minor units: of the order's own currency (paid, delivery) and of the base currency (total, net, cost). A cost that is not known is none.
CREATE TABLE past_batches (
    id     INTEGER PRIMARY KEY,
    step   INTEGER NOT NULL,
    counts INTEGER NOT NULL DEFAULT 0,
    orders INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE past_orders (
    id       INTEGER PRIMARY KEY,
    batch    INTEGER NOT NULL REFERENCES past_batches (id),
    source   TEXT NOT NULL,
    number   TEXT NOT NULL,
    at       INTEGER NOT NULL,
    day      TEXT NOT NULL,
    currency TEXT NOT NULL,
    shopper  TEXT,
    place    TEXT,
    channel  TEXT,
    method   TEXT,
    codes    TEXT NOT NULL DEFAULT '[]',
    assumed  INTEGER NOT NULL,
    delivery INTEGER NOT NULL,
    total    INTEGER NOT NULL,
    net      INTEGER NOT NULL,
    cost     INTEGER,
    UNIQUE (source, number)
) STRICT;
CREATE INDEX past_orders_by_number ON past_orders (number);
CREATE INDEX past_orders_by_day ON past_orders (day, id);
CREATE INDEX past_orders_by_batch ON past_orders (batch);
CREATE INDEX past_orders_by_total ON past_orders (total);
CREATE INDEX past_orders_by_codes ON past_orders (codes) WHERE codes <> '[]';
CREATE INDEX past_orders_by_shopper ON past_orders (shopper) WHERE shopper IS NOT NULL;

CREATE TABLE past_lines (
    order_id INTEGER NOT NULL REFERENCES past_orders (id),
    position INTEGER NOT NULL,
    sku      TEXT NOT NULL,
    quantity INTEGER NOT NULL,
    paid     INTEGER NOT NULL,
    net      INTEGER NOT NULL,
    cost     INTEGER,
    PRIMARY KEY (order_id, position)
) STRICT, WITHOUT ROWID;
CREATE INDEX past_lines_by_sku ON past_lines (sku);

-- The same by day and the codes that they name, in the base currency: what they add to takings. Added up as they come in.
CREATE TABLE past_days (
    batch     INTEGER NOT NULL REFERENCES past_batches (id),
    day       TEXT NOT NULL,
    codes     TEXT NOT NULL,
    orders    INTEGER NOT NULL,
    units     INTEGER NOT NULL,
    takings   INTEGER NOT NULL,
    margin_of INTEGER NOT NULL,
    cost      INTEGER NOT NULL,
    PRIMARY KEY (batch, day, codes)
) STRICT, WITHOUT ROWID;
