package access

const setPassword = `UPDATE users SET password_hash = ?, generation = ? WHERE id = ? AND generation = ?
  AND active = 1`

const userRows = `SELECT u.id, u.name, u.sign_in, u.role, u.crew, ifnull(w.name, '') AS worker,
  ifnull(u.worker_id, 0) AS worker_id, u.active, u.version FROM users u
  LEFT JOIN workers w ON w.id = u.worker_id ORDER BY u.name, u.id`
