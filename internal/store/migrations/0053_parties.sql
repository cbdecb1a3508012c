-- +goose Up
-- What an e-invoice needs of seller and buyer: addresses in parts, numbers in registers, where e-invoices go. An issued invoice keeps what
-- it was issued with.
ALTER TABLE company ADD COLUMN registration TEXT NOT NULL DEFAULT ''; -- its number in the register of companies
ALTER TABLE company ADD COLUMN endpoint TEXT NOT NULL DEFAULT ''; -- where e-invoices reach it
ALTER TABLE company ADD COLUMN endpoint_scheme TEXT NOT NULL DEFAULT ''; -- what kind of address that is, by the EAS code list
ALTER TABLE customers ADD COLUMN post_code TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN city TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN region TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN country TEXT NOT NULL DEFAULT ''; -- ISO 3166, two letters; blank: not said
ALTER TABLE customers ADD COLUMN tax_number TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN reference TEXT NOT NULL DEFAULT ''; -- what they want to see on each invoice
ALTER TABLE customers ADD COLUMN registration TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN endpoint TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN endpoint_scheme TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN reference TEXT NOT NULL DEFAULT '';
CREATE TABLE invoice_parties (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id),
  side TEXT NOT NULL CHECK (side IN ('seller', 'buyer')),
  street TEXT NOT NULL DEFAULT '',
  post_code TEXT NOT NULL DEFAULT '',
  city TEXT NOT NULL DEFAULT '',
  region TEXT NOT NULL DEFAULT '',
  country TEXT NOT NULL DEFAULT '',
  tax_number TEXT NOT NULL DEFAULT '',
  email TEXT NOT NULL DEFAULT '',
  registration TEXT NOT NULL DEFAULT '',
  endpoint TEXT NOT NULL DEFAULT '',
  endpoint_scheme TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (invoice_id, side)
) STRICT, WITHOUT ROWID;
-- +goose StatementBegin
CREATE TRIGGER invoice_parties_fixed BEFORE UPDATE ON invoice_parties BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_parties_kept BEFORE DELETE ON invoice_parties BEGIN
  SELECT RAISE(ABORT, 'an issued invoice never changes');
END;
-- +goose StatementEnd
-- How the work of each job was taxed, and why not.
ALTER TABLE invoice_jobs ADD COLUMN tax_kind TEXT NOT NULL DEFAULT ''
  CHECK (tax_kind IN ('', 'standard', 'zero', 'exempt', 'reverse_charge'));
ALTER TABLE invoice_jobs ADD COLUMN tax_note TEXT NOT NULL DEFAULT '';
