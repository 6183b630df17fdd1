-- Why an edition was published, if somebody said so.
ALTER TABLE editions ADD COLUMN reason TEXT;

-- What a second look found and the merchant has said is meant as written: the check, and the place in the document.
CREATE TABLE meant (
    promotion_id TEXT NOT NULL REFERENCES promotions (id) ON DELETE CASCADE,
    finding      TEXT NOT NULL,
    words        TEXT NOT NULL,
    meant_at     TEXT NOT NULL,
    PRIMARY KEY (promotion_id, finding)
) STRICT;
