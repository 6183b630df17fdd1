-- What each card paid of an order, in the order in which they paid, with what it held when new: what comes back is reckoned by the same figures.
CREATE TABLE order_payments (
    order_id     TEXT NOT NULL REFERENCES orders (id),
    position     INTEGER NOT NULL,
    promotion_id TEXT NOT NULL,
    code         TEXT NOT NULL,
    bare         TEXT,
    paid         INTEGER NOT NULL,
    here         INTEGER NOT NULL,
    in_base      INTEGER NOT NULL,
    keeps_rest   INTEGER NOT NULL,
    PRIMARY KEY (order_id, position)
) STRICT, WITHOUT ROWID;

-- Of orders placed before: cards of batches as their codes were told, in a currency's smallest units; what such a card held is as what was drawn for what it paid.
INSERT INTO order_payments
SELECT orders.id, code.key, code.value ->> '$.promotion', code.value ->> '$.code', order_codes.bare,
       CAST(replace(code.value ->> '$.amount', '.', '') AS INTEGER), CAST(replace(code.value ->> '$.amount', '.', '') AS INTEGER), order_codes.drawn,
       coalesce(versions.document ->> '$.rewards[0].keepRest', 1)
FROM orders, json_each(orders.result, '$.codes') AS code
JOIN order_codes ON order_codes.order_id = orders.id AND order_codes.bare = replace(replace(code.value ->> '$.code', '-', ''), ' ', '')
LEFT JOIN edition_spans ON edition_spans.promotion_id = code.value ->> '$.promotion' AND first <= orders.edition AND (last IS NULL OR last >= orders.edition)
LEFT JOIN versions ON versions.promotion_id = edition_spans.promotion_id AND versions.version = edition_spans.version
WHERE order_codes.drawn > 0 AND code.value ->> '$.amount' IS NOT NULL;

-- And the cards of promotions' own, which paid what their promotion took.
INSERT INTO order_payments
SELECT orders.id, 1000 + promotion.key, promotion.value ->> '$.id', coalesce((
           SELECT code.value ->> '$.code' FROM json_each(orders.result, '$.codes') AS code WHERE code.value ->> '$.promotion' = promotion.value ->> '$.id' LIMIT 1), ''),
       NULL, CAST(replace(promotion.value ->> '$.amount', '.', '') AS INTEGER), CAST(replace(promotion.value ->> '$.amount', '.', '') AS INTEGER), redemptions.drawn,
       coalesce(versions.document ->> '$.rewards[0].keepRest', 1)
FROM orders, json_each(orders.result, '$.promotions') AS promotion
JOIN redemptions ON redemptions.order_id = orders.id AND redemptions.promotion_id = promotion.value ->> '$.id'
LEFT JOIN edition_spans ON edition_spans.promotion_id = promotion.value ->> '$.id' AND first <= orders.edition AND (last IS NULL OR last >= orders.edition)
LEFT JOIN versions ON versions.promotion_id = edition_spans.promotion_id AND versions.version = edition_spans.version
WHERE redemptions.drawn > 0;

-- What was brought in of a shopper stands apart from what orders placed here add to it.
ALTER TABLE shoppers ADD COLUMN placed_orders INTEGER NOT NULL DEFAULT 0;
ALTER TABLE shoppers ADD COLUMN placed_spent INTEGER NOT NULL DEFAULT 0;
UPDATE shoppers SET
    placed_orders = (SELECT count(*) FROM orders WHERE shopper = shoppers.id AND state IN ('held', 'taken') AND NOT rehearsal),
    placed_spent = (SELECT coalesce(sum(total - back), 0) FROM orders WHERE shopper = shoppers.id AND state = 'taken' AND NOT rehearsal);
UPDATE shoppers SET orders = max(0, orders - placed_orders), spent = max(0, spent - placed_spent);

-- An earlier moment reads the uses as they stand now, but for those of its day: what was counted by day of Greenwich is no longer asked for.
DROP TRIGGER uses_begin;
DROP TRIGGER uses_move;
DROP TABLE daily_uses;
DROP INDEX redemptions_by_moment;
DROP INDEX redemptions_by_day;
CREATE TRIGGER uses_begin AFTER INSERT ON redemptions WHEN new.counts BEGIN
    INSERT INTO uses (promotion_id, uses, amount, drawn) VALUES (new.promotion_id, 1, new.amount, new.drawn)
    ON CONFLICT DO UPDATE SET uses = uses + 1, amount = amount + excluded.amount, drawn = drawn + excluded.drawn;
    INSERT INTO day_uses VALUES (new.day, new.promotion_id, 1) ON CONFLICT DO UPDATE SET uses = uses + 1;
    INSERT INTO shopper_uses SELECT new.shopper_id, new.promotion_id, 1 WHERE new.shopper_id IS NOT NULL
    ON CONFLICT DO UPDATE SET uses = uses + 1;
END;
CREATE TRIGGER uses_move AFTER UPDATE OF counts ON redemptions WHEN new.counts <> old.counts BEGIN
    UPDATE uses SET uses = uses + new.counts - old.counts, amount = amount + (new.counts - old.counts) * new.amount, drawn = drawn + (new.counts - old.counts) * new.drawn
    WHERE promotion_id = new.promotion_id;
    UPDATE day_uses SET uses = uses + new.counts - old.counts WHERE day = new.day AND promotion_id = new.promotion_id;
    UPDATE shopper_uses SET uses = uses + new.counts - old.counts WHERE shopper_id = new.shopper_id AND promotion_id = new.promotion_id;
END;
CREATE TRIGGER uses_draw AFTER UPDATE OF drawn ON redemptions WHEN new.counts AND new.drawn <> old.drawn BEGIN
    UPDATE uses SET drawn = drawn + new.drawn - old.drawn WHERE promotion_id = new.promotion_id;
END;
CREATE TRIGGER written_code AFTER UPDATE OF drawn ON codes WHEN new.drawn <> old.drawn BEGIN UPDATE written SET uses = uses + 1; END;

-- Both stand there under another name already.
DROP INDEX edition_spans_by_first;
DROP INDEX edition_spans_by_last;
