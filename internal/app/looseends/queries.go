package looseends

const keepDismissal = `INSERT INTO dismissals (kind, subject, reason, at, who) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO UPDATE
  SET reason = excluded.reason, at = excluded.at, who = excluded.who`

const asideRows = `SELECT * FROM dismissals x WHERE (@money OR kind = 'hole') AND (@crew = '' OR EXISTS (
  SELECT 1 FROM workers w WHERE w.crew = @crew AND x.subject = w.code || ' ' || substr(x.subject, -10))) ORDER BY at DESC, kind, subject
  LIMIT @most`

const holesAside = `SELECT w.id AS worker_id, substr(x.subject, -10) AS day, x.reason FROM dismissals x
  JOIN workers w ON x.subject = w.code || ' ' || substr(x.subject, -10)
  WHERE x.kind = 'hole'`
