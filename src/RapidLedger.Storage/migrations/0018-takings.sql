-- What is kept of an order so that it can be told what it brought: net, cost and shares as they were, and who bought.
CREATE TABLE order_figures (
    order_id TEXT PRIMARY KEY REFERENCES orders (id),
    document TEXT NOT NULL,
    fresh    INTEGER NOT NULL,
    guest    INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Figures by day and promotion, held orders apart; * are all orders, - those without any promotion. Minor units of the base currency.
CREATE TABLE takings_days (
    promotion    TEXT NOT NULL,
    day          TEXT NOT NULL,
    held         INTEGER NOT NULL,
    orders       INTEGER NOT NULL,
    units        INTEGER NOT NULL,
    takings      INTEGER NOT NULL,
    given        INTEGER NOT NULL,
    delivery     INTEGER NOT NULL,
    without_tax  INTEGER NOT NULL,
    paid         INTEGER NOT NULL,
    margin_of    INTEGER NOT NULL,
    cost         INTEGER NOT NULL,
    new_shoppers INTEGER NOT NULL,
    guests       INTEGER NOT NULL,
    PRIMARY KEY (day, promotion, held)
) STRICT, WITHOUT ROWID;
CREATE INDEX takings_by_promotion ON takings_days (promotion, day);

-- The same by what orders were: code, place, channel, currency, group, item, hour. Added up behind the orders, in the order of their changes.
CREATE TABLE takings_parts (
    promotion TEXT NOT NULL,
    day       TEXT NOT NULL,
    part      TEXT NOT NULL,
    word      TEXT NOT NULL,
    orders    INTEGER NOT NULL,
    units     INTEGER NOT NULL,
    takings   INTEGER NOT NULL,
    given     INTEGER NOT NULL,
    delivery  INTEGER NOT NULL,
    margin_of INTEGER NOT NULL,
    cost      INTEGER NOT NULL,
    PRIMARY KEY (promotion, day, part, word)
) STRICT, WITHOUT ROWID;

-- How each order was when it was added, so that a change of it can be added too; and the change up to which that is done.
CREATE TABLE takings_added (
    order_id TEXT PRIMARY KEY REFERENCES orders (id),
    returned TEXT
) STRICT, WITHOUT ROWID;
CREATE TABLE takings_reached (
    id     INTEGER PRIMARY KEY CHECK (id = 1),
    change INTEGER NOT NULL
) STRICT;
INSERT INTO takings_reached (id, change) VALUES (1, 0);
