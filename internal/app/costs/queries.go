package costs

// suppliers are all names of suppliers, in order: from each to the next one by the index, and not paper by paper.
const suppliers = `WITH RECURSIVE names (supplier) AS (
  SELECT min(supplier) FROM cost_documents WHERE supplier <> ''
  UNION ALL
  SELECT (SELECT min(supplier) FROM cost_documents d WHERE d.supplier <> '' AND d.supplier > names.supplier) FROM names
  WHERE supplier IS NOT NULL)
SELECT supplier FROM names WHERE supplier IS NOT NULL`
