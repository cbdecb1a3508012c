package rates

// workerRows are the workers, each with the first day of their hours that has no wage.
const workerRows = `SELECT w.*, ifnull(t.name, '') AS trade, ifnull(b.code, '') AS class,
    (SELECT min(date) FROM time_entries e WHERE e.worker_id = w.id AND e.cost IS NULL) AS no_wage_since FROM workers w
  LEFT JOIN trades t ON t.id = w.trade_id LEFT JOIN burden_classes b ON b.id = w.burden_class_id ORDER BY w.active DESC, w.name, w.id`

// noRateSince is the first day of hours that have no rate.
const noRateSince = "SELECT ifnull(min(date), 0) FROM time_entries WHERE unpriced = 1"

const rateRows = `SELECT r.*, c.code AS card, ifnull(w.name, '') AS worker, ifnull(t.name, '') AS trade,
  ifnull(k.code || ' ' || k.name, '') AS cost_code
  FROM labour_rates r JOIN rate_cards c ON c.id = r.card_id LEFT JOIN workers w ON w.id = r.worker_id
  LEFT JOIN trades t ON t.id = r.trade_id
  LEFT JOIN cost_codes k ON k.id = r.cost_code_id ORDER BY c.code, t.name, w.name, k.code, r.effective_from DESC`

const markupRows = `SELECT m.*, c.code AS card FROM markups m JOIN rate_cards c ON c.id = m.card_id
  ORDER BY c.code, m.category, m.over_cost, m.effective_from DESC`

const burdenRows = `SELECT b.*, c.code AS class FROM burdens b JOIN burden_classes c ON c.id = b.burden_class_id
  ORDER BY c.code, b.component, b.cost_code_id, b.effective_from DESC`

const customerRows = `SELECT c.id, c.code, c.name, c.email, c.address, c.post_code, c.city, c.region, c.country, c.tax_number,
  c.reference, c.open_book, c.registration, c.endpoint, c.endpoint_scheme, ifnull(c.terms_days, '') AS terms,
  ifnull(r.code, '') AS card, c.invoice_per, c.tax_exempt, c.phone, ifnull(t.code, '') AS tax_code,
  c.active, c.version,
  (SELECT count(*) FROM jobs j WHERE j.customer_id = c.id) AS jobs FROM customers c LEFT JOIN rate_cards r ON r.id = c.rate_card_id
  LEFT JOIN tax_codes t ON t.id = c.tax_code_id ORDER BY c.active DESC, c.name, c.id`

const taxRows = `SELECT c.*, t.component, t.effective_from, t.percent, t.applies_to, t.scheme FROM tax_codes c
  LEFT JOIN tax_components t ON t.tax_code_id = c.id ORDER BY c.code, t.id`

const tradeRows = `SELECT t.id, t.code, t.name, t.active, t.version, (SELECT count(*) FROM workers w WHERE w.trade_id = t.id) AS workers
  FROM trades t ORDER BY t.active DESC, t.name`
