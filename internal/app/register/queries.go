package register

const jobChoices = `SELECT j.id, j.number, j.name, ifnull(c.name, '') AS customer, j.status, j.basis
  FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order DESC`

const membersOf = `SELECT w.id, w.code, w.name, ifnull(t.name, '') AS sub FROM workers w
  LEFT JOIN trades t ON t.id = w.trade_id
  WHERE w.active = 1 AND (? = '' OR w.crew = ?) ORDER BY w.name, w.id`

const supplierNamed = `SELECT * FROM suppliers WHERE name = @name COLLATE NOCASE ORDER BY name <> @name, id LIMIT 1`
