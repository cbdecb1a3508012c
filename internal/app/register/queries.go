package register

const jobChoices = `SELECT j.id, j.number, j.name, ifnull(c.name, '') AS customer, j.status, j.basis
  FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order DESC`

// instalmentsAstray are the jobs whose instalments bill no phase in particular: the job is not fixed, and more than one phase is.
const instalmentsAstray = `SELECT j.number, count(*) AS phases FROM jobs j JOIN phases p ON p.job_id = j.id AND p.basis = 'fixed'
  WHERE @job IN (0, j.id) AND j.basis <> 'fixed' AND EXISTS (SELECT 1 FROM instalments n WHERE n.job_id = j.id)
  GROUP BY j.id HAVING count(*) > 1 ORDER BY j.number_order`

const membersOf = `SELECT w.id, w.code, w.name, ifnull(t.name, '') AS sub FROM workers w
  LEFT JOIN trades t ON t.id = w.trade_id
  WHERE w.active = 1 AND (? = '' OR w.crew = ?) ORDER BY w.name, w.id`

const supplierNamed = `SELECT * FROM suppliers WHERE name = @name COLLATE NOCASE ORDER BY name <> @name, id LIMIT 1`
