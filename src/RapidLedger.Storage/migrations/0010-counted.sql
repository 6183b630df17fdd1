-- The stock as it was counted last; none: as the catalogue says. What was sold before it was counted moves it no longer.
ALTER TABLE sold ADD COLUMN counted INTEGER;
UPDATE sold SET counted = (
    SELECT json_extract(variant.value, '$.stock') FROM catalogue, json_each(document, '$.products') AS product, json_each(product.value, '$.variants') AS variant
    WHERE json_extract(variant.value, '$.sku') = sold.sku) - less
WHERE less <> 0;
ALTER TABLE sold DROP COLUMN less;
