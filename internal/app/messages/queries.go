package messages

// rows are messages with what they are about.
const rows = `SELECT m.*, c.name AS customer,
  ifnull((SELECT group_concat(prefix || number, ', ') FROM (SELECT i.prefix, i.number FROM message_invoices x
    JOIN invoices i ON i.id = x.invoice_id WHERE x.message_id = m.id ORDER BY i.number)), '') AS numbers,
  (SELECT count(*) FROM message_invoices x JOIN invoices i ON i.id = x.invoice_id
    WHERE x.message_id = m.id AND i.credit_of IS NOT NULL) AS notes
  FROM messages m JOIN customers c ON c.id = m.customer_id `

const messagesAbout = rows + `WHERE CASE WHEN @invoice <> 0
    THEN m.id IN (SELECT message_id FROM message_invoices WHERE invoice_id = @invoice)
    ELSE m.customer_id = @customer AND m.kind = 'statement' END AND m.status <> 'cancelled' ORDER BY m.id DESC LIMIT 50`

const oneMessage = rows + `WHERE m.id = ?`

const openMessages = rows + `WHERE m.status IN ('queued', 'sending', 'failed') ORDER BY m.id`

const latestSent = rows + `WHERE m.id IN (SELECT id FROM messages WHERE status = 'sent' ORDER BY id DESC LIMIT ?) ORDER BY m.id DESC`

const sums = `SELECT ifnull(sum(status = 'failed'), 0) AS failed, ifnull(sum(status IN ('queued', 'sending')), 0) AS queued,
  ifnull(sum(status = 'sent'), 0) AS sent FROM messages`

// due is the message that is tried next.
const due = `SELECT * FROM messages WHERE status = 'queued' AND next_try <= ?
  AND (SELECT mail_stopped FROM book) = 0 ORDER BY next_try, id LIMIT 1`

// reminded is which reminder went out last, or is on its way, for each invoice that is open and overdue.
const reminded = `SELECT x.invoice_id, max(m.stage) AS stage, max(m.made_at) AS at
  FROM message_invoices x JOIN messages m ON m.id = x.message_id
  WHERE m.kind = 'reminder' AND m.status <> 'cancelled' AND x.invoice_id IN (SELECT i.id FROM invoices i
    JOIN invoice_balance b ON b.invoice_id = i.id WHERE i.status = 'issued' AND i.credit_of IS NULL AND b."left" > 0 AND i.due < @today)
  GROUP BY x.invoice_id`

// overdue are the open invoices past due, by customer, the oldest due date first.
const overdue = `SELECT i.id, i.customer_id, c.name AS customer, i.prefix || i.number AS number, i.date, i.due, b."left"
  FROM invoices i JOIN invoice_balance b ON b.invoice_id = i.id JOIN customers c ON c.id = i.customer_id
  WHERE i.status = 'issued' AND i.credit_of IS NULL AND b."left" > 0 AND i.due < @today AND @customer IN (0, c.id)
  ORDER BY c.name, c.id, i.due, i.number`
