-- Orders are found by what they hold, by promotion, day and amount.
CREATE TABLE order_items (
    sku      TEXT NOT NULL,
    order_id TEXT NOT NULL REFERENCES orders (id),
    PRIMARY KEY (sku, order_id)
) STRICT, WITHOUT ROWID;
INSERT OR IGNORE INTO order_items (sku, order_id)
SELECT line.value ->> '$.sku', orders.id FROM orders, json_each(result, '$.lines') AS line WHERE line.value ->> '$.sku' IS NOT NULL;
INSERT OR IGNORE INTO order_items (sku, order_id)
SELECT gift.value ->> '$.sku', orders.id FROM orders, json_each(result, '$.gifts') AS gift WHERE gift.value ->> '$.sku' IS NOT NULL;

CREATE INDEX orders_by_day ON orders (day, change);
CREATE INDEX orders_by_total ON orders (total, change);
CREATE INDEX orders_by_state ON orders (state, change);
CREATE INDEX redemptions_with_orders ON redemptions (promotion_id, order_id) WHERE order_id IS NOT NULL;
