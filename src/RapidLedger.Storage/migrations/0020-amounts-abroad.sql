-- What an order came to in its own currency: by that it is found, whatever has become of the rate since.
CREATE INDEX orders_abroad ON orders (json_extract(cart, '$.currency'), json_extract(result, '$.totals.total'), change)
WHERE json_extract(cart, '$.currency') IS NOT NULL;

-- In minor units of the order's own currency.
ALTER TABLE past_orders ADD COLUMN own_total INTEGER NOT NULL DEFAULT 0;
UPDATE past_orders SET own_total = delivery + (SELECT coalesce(sum(paid), 0) FROM past_lines WHERE order_id = past_orders.id);
CREATE INDEX past_orders_by_own_total ON past_orders (own_total, currency);
DROP INDEX past_orders_by_total;
