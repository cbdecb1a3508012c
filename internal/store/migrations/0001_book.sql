-- +goose Up
-- The model of calculation.md and docs/bundle.md. Units: money in minor units, rates and factors in
-- 1/10 000, quantities in 1/1 000, percentages in 1/10 000 of a percent, time in minutes, dates as
-- days since 1970-01-01.

CREATE TABLE rate_cards (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> '')
) STRICT;

CREATE TABLE tax_codes (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> '')
) STRICT;

CREATE TABLE tax_components (
  id INTEGER PRIMARY KEY,
  tax_code_id INTEGER NOT NULL REFERENCES tax_codes(id),
  component TEXT NOT NULL CHECK (component <> ''),
  percent INTEGER NOT NULL CHECK (percent >= 0),
  applies_to TEXT NOT NULL,
  UNIQUE (tax_code_id, component)
) STRICT;

CREATE TABLE company (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  company_name TEXT NOT NULL,
  address TEXT NOT NULL DEFAULT '',
  email TEXT NOT NULL DEFAULT '',
  currency TEXT NOT NULL CHECK (length(currency) = 3),
  week_start TEXT NOT NULL,
  overtime_weekly_minutes INTEGER CHECK (overtime_weekly_minutes >= 0),
  overtime_daily_minutes INTEGER CHECK (overtime_daily_minutes >= 0),
  double_daily_minutes INTEGER CHECK (double_daily_minutes >= 0),
  overtime_days TEXT NOT NULL DEFAULT '',
  double_days TEXT NOT NULL DEFAULT '',
  overtime_factor INTEGER NOT NULL CHECK (overtime_factor >= 10000),
  double_factor INTEGER NOT NULL CHECK (double_factor >= 10000),
  purchase_tax TEXT NOT NULL CHECK (purchase_tax IN ('cost', 'recovered')),
  distance_unit TEXT NOT NULL,
  invoice_prefix TEXT NOT NULL DEFAULT '',
  next_invoice_number INTEGER NOT NULL CHECK (next_invoice_number > 0),
  next_job_number INTEGER NOT NULL CHECK (next_job_number > 0),
  terms_days INTEGER NOT NULL CHECK (terms_days >= 0),
  rate_card_id INTEGER REFERENCES rate_cards(id),
  tax_code_id INTEGER REFERENCES tax_codes(id),
  unbilled_alert_days INTEGER NOT NULL CHECK (unbilled_alert_days >= 0),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE holidays (
  date INTEGER PRIMARY KEY,
  name TEXT NOT NULL
) STRICT;

CREATE TABLE cost_codes (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name TEXT NOT NULL
) STRICT;

CREATE TABLE trades (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name TEXT NOT NULL
) STRICT;

CREATE TABLE burden_classes (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> '')
) STRICT;

CREATE TABLE burdens (
  id INTEGER PRIMARY KEY,
  burden_class_id INTEGER NOT NULL REFERENCES burden_classes(id),
  component TEXT NOT NULL CHECK (component <> ''),
  effective_from INTEGER NOT NULL,
  basis TEXT NOT NULL CHECK (basis IN ('gross', 'straight', 'hour')),
  value INTEGER NOT NULL CHECK (value >= 0),
  annual_wage_cap INTEGER CHECK (annual_wage_cap >= 0),
  CHECK (basis <> 'hour' OR annual_wage_cap IS NULL),
  UNIQUE (burden_class_id, component, effective_from)
) STRICT;

CREATE TABLE workers (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name TEXT NOT NULL CHECK (name <> ''),
  trade_id INTEGER REFERENCES trades(id),
  burden_class_id INTEGER REFERENCES burden_classes(id),
  crew TEXT NOT NULL DEFAULT '',
  exempt INTEGER NOT NULL DEFAULT 0 CHECK (exempt IN (0, 1)),
  kind TEXT NOT NULL DEFAULT 'employee' CHECK (kind IN ('employee', 'hired')),
  active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE wages (
  id INTEGER PRIMARY KEY,
  worker_id INTEGER NOT NULL REFERENCES workers(id),
  effective_from INTEGER NOT NULL,
  rate INTEGER NOT NULL CHECK (rate >= 0),
  UNIQUE (worker_id, effective_from)
) STRICT;

CREATE TABLE year_openings (
  worker_id INTEGER NOT NULL REFERENCES workers(id),
  year INTEGER NOT NULL,
  gross INTEGER NOT NULL,
  straight INTEGER NOT NULL,
  PRIMARY KEY (worker_id, year)
) STRICT;

CREATE TABLE labour_rates (
  id INTEGER PRIMARY KEY,
  card_id INTEGER NOT NULL REFERENCES rate_cards(id),
  effective_from INTEGER NOT NULL,
  worker_id INTEGER REFERENCES workers(id),
  trade_id INTEGER REFERENCES trades(id),
  cost_code_id INTEGER REFERENCES cost_codes(id),
  method TEXT NOT NULL CHECK (method IN ('hourly', 'markup')),
  value INTEGER NOT NULL,
  overtime_factor INTEGER CHECK (overtime_factor > 0),
  double_factor INTEGER CHECK (double_factor > 0),
  CHECK (method <> 'hourly' OR value >= 0),
  CHECK (method <> 'markup' OR value > -1000000)
) STRICT;
CREATE UNIQUE INDEX labour_rates_row ON labour_rates
  (card_id, effective_from, ifnull(worker_id, 0), ifnull(trade_id, 0), ifnull(cost_code_id, 0));

CREATE TABLE markups (
  id INTEGER PRIMARY KEY,
  card_id INTEGER NOT NULL REFERENCES rate_cards(id),
  effective_from INTEGER NOT NULL,
  category TEXT NOT NULL,
  over_cost INTEGER NOT NULL DEFAULT 0 CHECK (over_cost >= 0),
  percent INTEGER NOT NULL CHECK (percent > -1000000),
  UNIQUE (card_id, effective_from, category, over_cost)
) STRICT;

CREATE TABLE customers (
  id INTEGER PRIMARY KEY,
  code TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name TEXT NOT NULL CHECK (name <> ''),
  email TEXT NOT NULL DEFAULT '',
  address TEXT NOT NULL DEFAULT '',
  phone TEXT NOT NULL DEFAULT '',
  terms_days INTEGER CHECK (terms_days >= 0),
  rate_card_id INTEGER REFERENCES rate_cards(id),
  tax_code_id INTEGER REFERENCES tax_codes(id),
  tax_exempt INTEGER NOT NULL DEFAULT 0 CHECK (tax_exempt IN (0, 1)),
  invoice_per TEXT NOT NULL DEFAULT 'job' CHECK (invoice_per IN ('job', 'customer')),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE jobs (
  id INTEGER PRIMARY KEY,
  number TEXT NOT NULL UNIQUE CHECK (number <> ''),
  number_order TEXT NOT NULL,
  customer_id INTEGER REFERENCES customers(id),
  name TEXT NOT NULL CHECK (name <> ''),
  type TEXT NOT NULL DEFAULT '',
  status TEXT NOT NULL DEFAULT 'live' CHECK (status IN ('quoting', 'live', 'paused', 'finished', 'closed')),
  basis TEXT NOT NULL DEFAULT 'tm' CHECK (basis IN ('tm', 'fixed', 'none')),
  contract INTEGER CHECK (contract >= 0),
  rate_card_id INTEGER REFERENCES rate_cards(id),
  tax_code_id INTEGER REFERENCES tax_codes(id),
  retainage INTEGER NOT NULL DEFAULT 0 CHECK (retainage BETWEEN 0 AND 1000000),
  start INTEGER,
  finish INTEGER,
  site TEXT NOT NULL DEFAULT '',
  description TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1,
  CHECK (customer_id IS NOT NULL OR basis = 'none')
) STRICT;
CREATE INDEX jobs_order ON jobs (number_order);
CREATE INDEX jobs_customer ON jobs (customer_id);

CREATE TABLE phases (
  id INTEGER PRIMARY KEY,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  code TEXT NOT NULL CHECK (code <> ''),
  name TEXT NOT NULL,
  basis TEXT CHECK (basis IN ('tm', 'fixed', 'none')),
  contract INTEGER CHECK (contract >= 0),
  UNIQUE (job_id, code),
  UNIQUE (id, job_id)
) STRICT;

CREATE TABLE users (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL CHECK (name <> ''),
  sign_in TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (sign_in <> ''),
  password_hash TEXT NOT NULL CHECK (password_hash <> ''),
  role TEXT NOT NULL CHECK (role IN ('owner', 'bookkeeper', 'manager', 'foreman')),
  active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1))
) STRICT;

CREATE TABLE sessions (
  token TEXT PRIMARY KEY,
  data BLOB NOT NULL,
  expiry INTEGER NOT NULL
) STRICT;
CREATE INDEX sessions_expiry ON sessions (expiry);

-- A create carries a key made by the client, so that a retry makes nothing twice.
CREATE TABLE creations (
  key TEXT PRIMARY KEY CHECK (length(key) BETWEEN 8 AND 64),
  kind TEXT NOT NULL,
  subject_id INTEGER NOT NULL
) STRICT;

CREATE TABLE history (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  user_id INTEGER REFERENCES users(id),
  user_name TEXT NOT NULL,
  action TEXT NOT NULL,
  kind TEXT NOT NULL,
  subject_id INTEGER NOT NULL,
  before TEXT,
  after TEXT
) STRICT;
CREATE INDEX history_subject ON history (kind, subject_id);

CREATE TABLE invoices (
  id INTEGER PRIMARY KEY,
  status TEXT NOT NULL DEFAULT 'draft' CHECK (status IN ('draft', 'issued')),
  number INTEGER UNIQUE,
  prefix TEXT NOT NULL DEFAULT '',
  customer_id INTEGER NOT NULL REFERENCES customers(id),
  date INTEGER NOT NULL,
  due INTEGER NOT NULL,
  grouping TEXT NOT NULL,
  title TEXT NOT NULL DEFAULT '',
  subtotal INTEGER NOT NULL,
  tax INTEGER NOT NULL,
  total INTEGER NOT NULL,
  retainage INTEGER NOT NULL,
  due_now INTEGER NOT NULL,
  -- who it is from and to, as it stood when it was issued
  currency TEXT NOT NULL,
  company_name TEXT NOT NULL,
  company_address TEXT NOT NULL,
  company_email TEXT NOT NULL,
  customer_name TEXT NOT NULL,
  customer_address TEXT NOT NULL,
  issued_at INTEGER,
  version INTEGER NOT NULL DEFAULT 1,
  CHECK (total = subtotal + tax AND due_now = total - retainage),
  CHECK (subtotal >= 0 AND total >= 0 AND due_now >= 0),
  CHECK ((status = 'issued') = (number IS NOT NULL) AND (status = 'issued') = (issued_at IS NOT NULL))
) STRICT;
CREATE INDEX invoices_customer ON invoices (customer_id, status);

CREATE TABLE invoice_lines (
  id INTEGER PRIMARY KEY,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  category TEXT NOT NULL,
  text TEXT NOT NULL,
  minutes INTEGER NOT NULL DEFAULT 0,
  quantity INTEGER NOT NULL DEFAULT 0,
  unit TEXT NOT NULL DEFAULT '',
  amount INTEGER NOT NULL,
  UNIQUE (invoice_id, position)
) STRICT;

CREATE TABLE invoice_taxes (
  id INTEGER PRIMARY KEY,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  tax_code TEXT NOT NULL,
  component TEXT NOT NULL,
  percent INTEGER NOT NULL,
  base INTEGER NOT NULL,
  amount INTEGER NOT NULL,
  UNIQUE (invoice_id, position)
) STRICT;

CREATE TABLE invoice_jobs (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  subtotal INTEGER NOT NULL,
  retainage_percent INTEGER NOT NULL,
  retainage INTEGER NOT NULL,
  PRIMARY KEY (invoice_id, job_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX invoice_jobs_job ON invoice_jobs (job_id);

-- What was billed of a job by phase, so that a phase with a basis of its own earns its own.
CREATE TABLE invoice_phases (
  id INTEGER PRIMARY KEY,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  phase_id INTEGER REFERENCES phases(id),
  amount INTEGER NOT NULL
) STRICT;
CREATE INDEX invoice_phases_job ON invoice_phases (job_id, phase_id, invoice_id, amount);
CREATE INDEX invoice_phases_invoice ON invoice_phases (invoice_id);

CREATE TABLE payments (
  id INTEGER PRIMARY KEY,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''),
  customer_id INTEGER NOT NULL REFERENCES customers(id),
  date INTEGER NOT NULL,
  amount INTEGER NOT NULL CHECK (amount > 0),
  note TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE payment_allocations (
  payment_id INTEGER NOT NULL REFERENCES payments(id) ON DELETE CASCADE,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id),
  amount INTEGER NOT NULL CHECK (amount > 0),
  PRIMARY KEY (payment_id, invoice_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX payment_allocations_invoice ON payment_allocations (invoice_id);

CREATE TABLE time_entries (
  id INTEGER PRIMARY KEY,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''),
  worker_id INTEGER NOT NULL REFERENCES workers(id),
  date INTEGER NOT NULL,
  job_id INTEGER NOT NULL REFERENCES jobs(id),
  phase_id INTEGER,
  cost_code_id INTEGER REFERENCES cost_codes(id),
  minutes INTEGER NOT NULL CHECK (minutes BETWEEN 1 AND 1440),
  start INTEGER CHECK (start BETWEEN 0 AND 1439),
  finish INTEGER CHECK (finish BETWEEN 0 AND 1439),
  break_minutes INTEGER NOT NULL DEFAULT 0 CHECK (break_minutes >= 0),
  billable INTEGER NOT NULL CHECK (billable IN (0, 1)),
  pay_class TEXT NOT NULL CHECK (pay_class IN ('auto', 'regular', 'overtime', 'double')),
  rate INTEGER CHECK (rate >= 0),
  status TEXT NOT NULL CHECK (status IN ('draft', 'submitted', 'approved')),
  note TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1,
  -- derived by the costing step from the segments
  overtime_minutes INTEGER NOT NULL DEFAULT 0,
  cost INTEGER,
  charge INTEGER,
  unpriced INTEGER NOT NULL DEFAULT 0 CHECK (unpriced IN (0, 1)), -- billable on time and materials, and no price
  -- derived by triggers from the invoices
  invoice_id INTEGER REFERENCES invoices(id),
  billed INTEGER NOT NULL DEFAULT 0 CHECK (billed IN (0, 1)),
  CHECK ((start IS NULL) = (finish IS NULL)),
  FOREIGN KEY (phase_id, job_id) REFERENCES phases(id, job_id)
) STRICT;
-- The wide indexes hold all that a sum needs, so that totals and lists are added up from the index alone.
CREATE INDEX time_entries_worker ON time_entries (worker_id, date);
CREATE INDEX time_entries_date ON time_entries (date, job_id, minutes, cost, charge, unpriced);
CREATE INDEX time_entries_job ON time_entries (job_id, status);
CREATE INDEX time_entries_ready ON time_entries (job_id, date, charge, cost)
  WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL;
CREATE INDEX time_entries_waiting ON time_entries (status, worker_id, date, job_id, minutes, cost, charge) WHERE status <> 'approved';
CREATE INDEX time_entries_no_wage ON time_entries (worker_id, date) WHERE cost IS NULL;
CREATE INDEX time_entries_unpriced ON time_entries (worker_id, job_id, date, minutes, cost) WHERE unpriced = 1;
CREATE INDEX time_entries_invoice ON time_entries (invoice_id) WHERE invoice_id IS NOT NULL;

CREATE TABLE labour_segments (
  entry_id INTEGER NOT NULL REFERENCES time_entries(id) ON DELETE CASCADE,
  class INTEGER NOT NULL CHECK (class BETWEEN 0 AND 2),
  minutes INTEGER NOT NULL CHECK (minutes > 0),
  straight INTEGER NOT NULL,
  gross INTEGER NOT NULL,
  burden INTEGER NOT NULL,
  cost INTEGER,
  charge INTEGER,
  PRIMARY KEY (entry_id, class)
) STRICT, WITHOUT ROWID;

CREATE TABLE cost_documents (
  id INTEGER PRIMARY KEY,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''),
  kind TEXT NOT NULL CHECK (kind IN ('supplier_invoice', 'receipt', 'claim', 'mileage', 'plant')),
  supplier TEXT NOT NULL DEFAULT '',
  worker_id INTEGER REFERENCES workers(id),
  date INTEGER NOT NULL,
  number TEXT NOT NULL DEFAULT '',
  freight INTEGER NOT NULL DEFAULT 0,
  tax INTEGER NOT NULL DEFAULT 0,
  status TEXT NOT NULL CHECK (status IN ('draft', 'submitted', 'approved')),
  note TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE INDEX cost_documents_date ON cost_documents (date);
CREATE INDEX cost_documents_waiting ON cost_documents (date) WHERE status <> 'approved';
CREATE INDEX cost_documents_number ON cost_documents (supplier, number) WHERE supplier <> '' AND number <> '';

CREATE TABLE cost_lines (
  id INTEGER PRIMARY KEY,
  document_id INTEGER NOT NULL REFERENCES cost_documents(id),
  line TEXT NOT NULL CHECK (line <> ''),
  line_order TEXT NOT NULL,
  category TEXT NOT NULL,
  description TEXT NOT NULL DEFAULT '',
  quantity INTEGER NOT NULL,
  unit TEXT NOT NULL DEFAULT '',
  unit_cost INTEGER NOT NULL,
  job_id INTEGER REFERENCES jobs(id),
  phase_id INTEGER,
  cost_code_id INTEGER REFERENCES cost_codes(id),
  billable INTEGER NOT NULL CHECK (billable IN (0, 1)),
  markup INTEGER CHECK (markup > -1000000),
  sell_price INTEGER,
  -- derived by the costing step; status and date are the document's, kept here for sums
  status TEXT NOT NULL,
  date INTEGER NOT NULL,
  base INTEGER NOT NULL DEFAULT 0,
  freight INTEGER NOT NULL DEFAULT 0,
  tax INTEGER NOT NULL DEFAULT 0,
  landed INTEGER NOT NULL DEFAULT 0,
  charge INTEGER,
  unmarked INTEGER NOT NULL DEFAULT 0 CHECK (unmarked IN (0, 1)), -- charged at cost, since no card has a markup for it
  -- derived by triggers from the invoices
  invoice_id INTEGER REFERENCES invoices(id),
  billed INTEGER NOT NULL DEFAULT 0 CHECK (billed IN (0, 1)),
  UNIQUE (document_id, line),
  FOREIGN KEY (phase_id, job_id) REFERENCES phases(id, job_id)
) STRICT;
CREATE INDEX cost_lines_date ON cost_lines (date, job_id, landed, charge);
CREATE INDEX cost_lines_job ON cost_lines (job_id, status);
CREATE INDEX cost_lines_ready ON cost_lines (job_id, category, date, charge, landed)
  WHERE status = 'approved' AND charge IS NOT NULL AND invoice_id IS NULL;
CREATE INDEX cost_lines_waiting ON cost_lines (document_id, date, job_id, charge) WHERE status <> 'approved';
CREATE INDEX cost_lines_unmarked ON cost_lines (document_id, category, date, landed) WHERE unmarked = 1 AND billed = 0;
CREATE INDEX cost_lines_invoice ON cost_lines (invoice_id) WHERE invoice_id IS NOT NULL;

CREATE TABLE invoice_sources (
  id INTEGER PRIMARY KEY,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id) ON DELETE CASCADE,
  invoice_line_id INTEGER REFERENCES invoice_lines(id) ON DELETE SET NULL,
  entry_id INTEGER REFERENCES time_entries(id),
  cost_line_id INTEGER REFERENCES cost_lines(id),
  part INTEGER NOT NULL DEFAULT 1 CHECK (part > 0),
  charge INTEGER NOT NULL,
  amount INTEGER NOT NULL,
  released INTEGER NOT NULL DEFAULT 0 CHECK (released IN (0, 1)),
  CHECK ((entry_id IS NULL) <> (cost_line_id IS NULL))
) STRICT;
-- One source is on at most one live invoice for each part: nothing is billed twice.
CREATE UNIQUE INDEX invoice_sources_entry_once ON invoice_sources (entry_id, part) WHERE entry_id IS NOT NULL AND released = 0;
CREATE UNIQUE INDEX invoice_sources_cost_line_once ON invoice_sources (cost_line_id, part) WHERE cost_line_id IS NOT NULL AND released = 0;
CREATE INDEX invoice_sources_invoice ON invoice_sources (invoice_id);
CREATE INDEX invoice_sources_line ON invoice_sources (invoice_line_id);
