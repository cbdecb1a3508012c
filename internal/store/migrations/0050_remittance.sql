-- +goose Up
-- How the company is paid, its licence, and how its papers look. An issued invoice keeps what it said.
ALTER TABLE company ADD COLUMN licence TEXT NOT NULL DEFAULT '';
ALTER TABLE company ADD COLUMN payee TEXT NOT NULL DEFAULT ''; -- blank: the company's name
ALTER TABLE company ADD COLUMN bank TEXT NOT NULL DEFAULT '';
ALTER TABLE company ADD COLUMN account TEXT NOT NULL DEFAULT ''; -- an IBAN, or a number of the country's own
ALTER TABLE company ADD COLUMN bank_code TEXT NOT NULL DEFAULT ''; -- a BIC, or a routing or sort code
ALTER TABLE company ADD COLUMN pay_note TEXT NOT NULL DEFAULT ''; -- how else to pay
ALTER TABLE company ADD COLUMN paper_size TEXT NOT NULL DEFAULT '' CHECK (paper_size IN ('', 'a4', 'letter')); -- blank: as in its country
ALTER TABLE company ADD COLUMN accent TEXT NOT NULL DEFAULT ''; -- the colour of its papers, as #2f4575; blank: black

ALTER TABLE invoices ADD COLUMN company_phone TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN company_country TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN licence TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN payee TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN bank TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN account TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN bank_code TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN pay_note TEXT NOT NULL DEFAULT '';
ALTER TABLE invoices ADD COLUMN paper_size TEXT NOT NULL DEFAULT '' CHECK (paper_size IN ('', 'a4', 'letter')); -- blank: a4
ALTER TABLE invoices ADD COLUMN accent TEXT NOT NULL DEFAULT '';
ALTER TABLE invoice_jobs ADD COLUMN site TEXT NOT NULL DEFAULT ''; -- of the job, as it was issued
