-- How much of an order's total came back, in minor units of the base currency: so much less its shopper has spent.
ALTER TABLE orders ADD COLUMN back INTEGER NOT NULL DEFAULT 0;
UPDATE orders SET back = total WHERE state = 'givenBack';
