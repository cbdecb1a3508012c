-- +goose Up
-- The price list: what is bought or used again and again. Mileage and plant have their rates here, by date; of what is
-- bought the usual cost is also what was paid last, which is read from the approved lines.
CREATE TABLE items (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> ''),
  description TEXT NOT NULL CHECK (description <> ''),
  category TEXT NOT NULL CHECK (category IN ('material', 'equipment', 'subcontract', 'expense', 'mileage')),
  unit TEXT NOT NULL DEFAULT '',
  active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1))
) STRICT;
CREATE TABLE item_prices (
  id INTEGER PRIMARY KEY,
  item_id INTEGER NOT NULL REFERENCES items(id),
  effective_from INTEGER NOT NULL,
  unit_cost INTEGER NOT NULL CHECK (unit_cost >= 0),
  sell_price INTEGER CHECK (sell_price >= 0),
  UNIQUE (item_id, effective_from)
) STRICT;
ALTER TABLE cost_lines ADD COLUMN item_id INTEGER REFERENCES items(id);
CREATE INDEX cost_lines_item ON cost_lines (item_id, date) WHERE item_id IS NOT NULL;
