package pricelist

const pricedItems = `SELECT i.*, l.date AS paid_on, l.unit_cost AS paid_cost FROM items i
  LEFT JOIN cost_lines l ON i.category NOT IN ('equipment', 'mileage') AND l.id = (
  SELECT p.id FROM cost_lines p WHERE p.item_id = i.id AND p.status = 'approved' AND p.quantity > 0 AND p.date <= ? AND p.document_id <> ?
  AND NOT EXISTS (SELECT 1 FROM cost_documents v WHERE v.id = p.document_id AND v.void <> '')
  ORDER BY p.date DESC, p.id DESC LIMIT 1)
  WHERE ? IN (0, i.id) ORDER BY i.category, i.code`
