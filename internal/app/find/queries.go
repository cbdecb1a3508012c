package find

// What is typed is up to four words, each of them a pattern; the newest come first.
const found = `SELECT kind, id, title, detail, date, crew FROM findable WHERE kind = @kind AND title || ' ' || detail LIKE @first
  AND title || ' ' || detail LIKE @second AND title || ' ' || detail LIKE @third AND title || ' ' || detail LIKE @fourth
  AND (@crew = '' OR kind <> 'worker' OR crew = @crew) ORDER BY id DESC LIMIT @most`
