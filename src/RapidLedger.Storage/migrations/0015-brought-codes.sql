-- What codes had been used and drawn before they came here with the files of a shop: no order here says so.
ALTER TABLE codes ADD COLUMN brought_used INTEGER NOT NULL DEFAULT 0;
ALTER TABLE codes ADD COLUMN brought_drawn INTEGER NOT NULL DEFAULT 0;
