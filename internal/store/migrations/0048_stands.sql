-- +goose Up
-- Where the contract of each job stood as an invoice was issued, and what the customer held back of it by then. Invoices of before say
-- nothing of it.
ALTER TABLE invoice_jobs ADD COLUMN contract INTEGER; -- what was agreed of its fixed work, where the invoice bills of that
ALTER TABLE invoice_jobs ADD COLUMN billed_to_date INTEGER; -- of that, with this invoice
ALTER TABLE invoice_jobs ADD COLUMN held_to_date INTEGER; -- retained of the job, with this invoice
CREATE VIEW job_stands AS
  SELECT b.invoice_id, b.job_id, iif(t.now IS NULL, NULL, f.contract) AS contract,
    iif(f.contract IS NULL, NULL, t.now + (SELECT ifnull(sum(x.billed), 0) FROM fixed_billed x
      WHERE x.job_id = b.job_id AND x.invoice_id <> b.invoice_id)) AS billed_to_date,
    iif(b.retainage = 0, NULL, b.retainage + (SELECT ifnull(sum(o.retainage), 0) FROM invoice_jobs o JOIN invoices i ON i.id = o.invoice_id
      WHERE o.job_id = b.job_id AND i.status = 'issued' AND i.id <> b.invoice_id)) AS held_to_date
    FROM invoice_jobs b LEFT JOIN fixed_contracts f ON f.job_id = b.job_id
    LEFT JOIN (SELECT invoice_id, job_id, sum(amount) AS now FROM typed_lines WHERE kind IN ('progress', 'instalment')
      GROUP BY invoice_id, job_id) t ON t.invoice_id = b.invoice_id AND t.job_id = b.job_id;
