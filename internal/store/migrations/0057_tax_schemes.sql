-- +goose Up
-- What kind of tax a component is, by the code list UNCL 5153; blank: the one that is usual in the company's country. An issued invoice
-- keeps it.
ALTER TABLE tax_components ADD COLUMN scheme TEXT NOT NULL DEFAULT '' CHECK (scheme IN ('', 'STT', 'LOC', 'GST', 'VAT', 'OTH'));
ALTER TABLE invoice_taxes ADD COLUMN scheme TEXT NOT NULL DEFAULT '' CHECK (scheme IN ('', 'STT', 'LOC', 'GST', 'VAT', 'OTH'));
