-- When each promotion was last written, in the numbers of what is written: whoever follows reads those alone that came since.
ALTER TABLE promotion_ids ADD COLUMN written INTEGER NOT NULL DEFAULT 0;
CREATE INDEX promotion_ids_by_written ON promotion_ids (written);
-- The last number that was given to a promotion begun here: p12.
ALTER TABLE written ADD COLUMN begun INTEGER NOT NULL DEFAULT 0;
UPDATE written SET begun = (SELECT coalesce(max(CAST(substr(id, 2) AS INTEGER)), 0) FROM promotion_ids WHERE id GLOB 'p[0-9]*' AND id NOT GLOB 'p*[^0-9]*');

DROP TRIGGER promotion_ids_stay;
DROP TRIGGER written_promotion;
DROP TRIGGER written_change;
DROP TRIGGER written_away;
CREATE TRIGGER written_promotion AFTER INSERT ON promotions BEGIN
    UPDATE written SET promotions = promotions + 1;
    INSERT INTO promotion_ids (id, written) VALUES (new.id, (SELECT promotions FROM written));
END;
CREATE TRIGGER written_change AFTER UPDATE ON promotions BEGIN
    UPDATE written SET promotions = promotions + 1;
    UPDATE promotion_ids SET written = (SELECT promotions FROM written) WHERE id = new.id;
END;
CREATE TRIGGER written_away AFTER DELETE ON promotions BEGIN
    UPDATE written SET promotions = promotions + 1;
    UPDATE promotion_ids SET written = (SELECT promotions FROM written) WHERE id = old.id;
END;

-- What joined and what left with an edition.
CREATE INDEX edition_spans_by_first ON edition_spans (first);
CREATE INDEX edition_spans_by_last ON edition_spans (last) WHERE last IS NOT NULL;
