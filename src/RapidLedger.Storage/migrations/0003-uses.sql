-- An id stays taken when its promotion is gone, so that nothing that names it ever means another.
CREATE TABLE promotion_ids (
    id TEXT PRIMARY KEY
) STRICT;

INSERT INTO promotion_ids (id) SELECT id FROM promotions;

CREATE TRIGGER promotion_ids_stay AFTER INSERT ON promotions BEGIN
    INSERT INTO promotion_ids (id) VALUES (new.id);
END;

-- What has been used, counted as it happens: in all, by day, and by each shopper.
CREATE TABLE uses (
    promotion_id TEXT PRIMARY KEY,
    uses         INTEGER NOT NULL,
    amount       INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- By day of Greenwich, so that an earlier moment is found by taking later days away.
CREATE TABLE daily_uses (
    day          INTEGER NOT NULL,
    promotion_id TEXT NOT NULL,
    uses         INTEGER NOT NULL,
    amount       INTEGER NOT NULL,
    PRIMARY KEY (day, promotion_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE shopper_uses (
    shopper_id   TEXT NOT NULL,
    promotion_id TEXT NOT NULL,
    uses         INTEGER NOT NULL,
    PRIMARY KEY (shopper_id, promotion_id)
) STRICT, WITHOUT ROWID;

INSERT INTO uses SELECT promotion_id, count(*), sum(amount) FROM redemptions GROUP BY promotion_id;
INSERT INTO daily_uses SELECT at / 86400, promotion_id, count(*), sum(amount) FROM redemptions GROUP BY at / 86400, promotion_id;
INSERT INTO shopper_uses SELECT shopper_id, promotion_id, count(*) FROM redemptions WHERE shopper_id IS NOT NULL GROUP BY shopper_id, promotion_id;

CREATE TRIGGER uses_count AFTER INSERT ON redemptions BEGIN
    INSERT INTO uses VALUES (new.promotion_id, 1, new.amount)
    ON CONFLICT DO UPDATE SET uses = uses + 1, amount = amount + excluded.amount;
    INSERT INTO daily_uses VALUES (new.at / 86400, new.promotion_id, 1, new.amount)
    ON CONFLICT DO UPDATE SET uses = uses + 1, amount = amount + excluded.amount;
    INSERT INTO shopper_uses SELECT new.shopper_id, new.promotion_id, 1 WHERE new.shopper_id IS NOT NULL
    ON CONFLICT DO UPDATE SET uses = uses + 1;
END;

CREATE INDEX redemptions_by_moment ON redemptions (at, promotion_id, amount);
CREATE INDEX redemptions_by_shopper ON redemptions (shopper_id, at, promotion_id);
CREATE INDEX editions_of_spans ON edition_spans (first);
CREATE INDEX ends_of_spans ON edition_spans (last) WHERE last IS NOT NULL;
