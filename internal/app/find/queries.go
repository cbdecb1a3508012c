package find

// What is typed is up to four words, each of them a pattern; the newest come first.
const found = `SELECT kind, id, title, detail, date, crew FROM findable WHERE kind = @kind AND title || ' ' || detail LIKE @first
  AND title || ' ' || detail LIKE @second AND title || ' ' || detail LIKE @third AND title || ' ' || detail LIKE @fourth
  AND (@crew = '' OR kind <> 'worker' OR crew = @crew) ORDER BY id DESC LIMIT @most`

// What comes to an amount, the newest first.
const (
	invoicesOf = `SELECT f.kind, f.id, f.title, f.detail, f.date, '' AS crew FROM invoices i
  JOIN findable f ON f.id = i.id AND f.kind = iif(i.status = 'issued', 'invoice', 'draft')
  WHERE @amount IN (i.total, i.due_now, i.subtotal) ORDER BY i.id DESC LIMIT @most`
	papersOf = `SELECT f.kind, f.id, f.title, f.detail, f.date, '' AS crew FROM (
    SELECT id FROM cost_documents WHERE total = @amount UNION
    SELECT document_id FROM cost_lines GROUP BY document_id HAVING sum(landed) = @amount) p
  JOIN findable f ON f.id = p.id AND f.kind = 'cost_document' ORDER BY p.id DESC LIMIT @most`
	paymentsOf = `SELECT 'payments' AS kind, p.id, iif(p.kind = 'refund', 'Refund to ', 'Payment of ') || c.name AS title,
    trim(p.method || ' ' || p.reference) AS detail, p.date, '' AS crew
  FROM payments p JOIN customers c ON c.id = p.customer_id WHERE p.amount = @amount ORDER BY p.id DESC LIMIT @most`
)
