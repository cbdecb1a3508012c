package company

const companyCodes = `SELECT ifnull(r.code, '') AS card, ifnull(t.code, '') AS tax FROM company c
  LEFT JOIN rate_cards r ON r.id = c.rate_card_id LEFT JOIN tax_codes t ON t.id = c.tax_code_id WHERE c.id = 1`
