package history

const entriesOfCrew = `SELECT e.id FROM time_entries e JOIN workers w ON w.id = e.worker_id WHERE e.id IN ?
  AND w.crew = ?`
