-- By how much the stock that was set last is less than that of the catalogue. What was sold before it was set moves it no longer.
ALTER TABLE sold ADD COLUMN less INTEGER NOT NULL DEFAULT 0;
CREATE INDEX order_units_by_sku ON order_units (sku);
