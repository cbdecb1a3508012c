-- +goose Up
-- What is sent to customers, as it was written, and what became of it. A message that was sent never changes, and none is ever deleted.
CREATE TABLE messages (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  ref TEXT NOT NULL UNIQUE CHECK (ref <> ''),
  kind TEXT NOT NULL CHECK (kind IN ('invoice', 'reminder', 'statement')),
  stage INTEGER NOT NULL DEFAULT 0 CHECK (stage BETWEEN 0 AND 3 AND (stage > 0) = (kind = 'reminder')), -- which of the reminders
  customer_id INTEGER NOT NULL REFERENCES customers(id),
  sender TEXT NOT NULL CHECK (sender <> ''), -- as a mail address, with a name
  recipients TEXT NOT NULL CHECK (recipients <> ''), -- mail addresses, between commas
  subject TEXT NOT NULL CHECK (subject <> ''),
  body TEXT NOT NULL,
  status TEXT NOT NULL CHECK (status IN ('queued', 'sending', 'sent', 'failed', 'cancelled')),
  tries INTEGER NOT NULL DEFAULT 0 CHECK (tries >= 0),
  next_try INTEGER CHECK ((next_try IS NOT NULL) = (status = 'queued')), -- milliseconds since 1970
  tried_at INTEGER,
  problem TEXT NOT NULL DEFAULT '', -- what was said at the last try
  made_at INTEGER NOT NULL,
  made_by TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE INDEX messages_queued ON messages (next_try) WHERE status = 'queued';
CREATE INDEX messages_status ON messages (status, id);
CREATE INDEX messages_customer ON messages (customer_id);
CREATE TABLE message_invoices (
  message_id INTEGER NOT NULL REFERENCES messages(id),
  invoice_id INTEGER NOT NULL REFERENCES invoices(id),
  PRIMARY KEY (message_id, invoice_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX message_invoices_invoice ON message_invoices (invoice_id);
CREATE TABLE message_files (
  message_id INTEGER NOT NULL REFERENCES messages(id),
  position INTEGER NOT NULL CHECK (position >= 1),
  name TEXT NOT NULL CHECK (name <> ''),
  media TEXT NOT NULL CHECK (media <> ''),
  sha256 TEXT NOT NULL CHECK (length(sha256) = 64), -- of its data
  data BLOB NOT NULL,
  PRIMARY KEY (message_id, position)
) STRICT;
CREATE INDEX message_files_sum ON message_files (sha256);
-- What the company writes, where it is not what Jarvo begins with.
CREATE TABLE message_texts (
  kind TEXT PRIMARY KEY CHECK (kind IN ('invoice', 'credit_note', 'statement', 'reminder_1', 'reminder_2', 'reminder_3')),
  subject TEXT NOT NULL CHECK (subject <> ''),
  body TEXT NOT NULL CHECK (body <> ''),
  version INTEGER NOT NULL DEFAULT 1
) STRICT, WITHOUT ROWID;
-- +goose StatementBegin
CREATE TRIGGER messages_fixed BEFORE UPDATE ON messages WHEN OLD.status IN ('sent', 'cancelled')
  OR (OLD.id, OLD.ref, OLD.kind, OLD.stage, OLD.customer_id, OLD.sender, OLD.subject, OLD.body, OLD.made_at, OLD.made_by)
    IS NOT (NEW.id, NEW.ref, NEW.kind, NEW.stage, NEW.customer_id, NEW.sender, NEW.subject, NEW.body, NEW.made_at, NEW.made_by) BEGIN
  SELECT RAISE(ABORT, 'a message stays as it was written');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER messages_kept BEFORE DELETE ON messages BEGIN
  SELECT RAISE(ABORT, 'messages stay in the book');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER message_files_fixed BEFORE UPDATE ON message_files BEGIN
  SELECT RAISE(ABORT, 'what was attached to a message stays as it was');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER message_files_kept BEFORE DELETE ON message_files BEGIN
  SELECT RAISE(ABORT, 'what was attached to a message stays in the book');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER message_invoices_kept BEFORE DELETE ON message_invoices BEGIN
  SELECT RAISE(ABORT, 'which invoices a message was about stays in the book');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER message_invoices_issued BEFORE INSERT ON message_invoices WHEN NOT EXISTS (
  SELECT 1 FROM invoices i JOIN messages m ON m.id = NEW.message_id
    WHERE i.id = NEW.invoice_id AND i.status = 'issued' AND i.customer_id = m.customer_id) BEGIN
  SELECT RAISE(ABORT, 'a message is about issued invoices of its customer');
END;
-- +goose StatementEnd
