package scope

const (
	// crewSums are the hours of a crew, between dates, with what they cost and are charged.
	crewSums = `SELECT ifnull(sum(minutes), 0) AS minutes, ifnull(sum(cost), 0) AS labour, ifnull(sum(charge), 0) AS charge,
  ifnull(sum(iif(charge IS NULL, 0, cost)), 0) AS charged, count(*) - count(cost) AS no_cost, ifnull(sum(unpriced), 0) AS no_charge
FROM time_entries WHERE worker_id IN (SELECT id FROM workers WHERE crew = @crew) AND date BETWEEN @from AND @to`

	// keptSums are the sums of all dates, as they are kept.
	keptSums = `SELECT ifnull(sum(minutes), 0) AS minutes, ifnull(sum(charge), 0) AS charge,
  ifnull(sum(labour), 0) AS labour, ifnull(sum(cost - labour), 0) AS other, ifnull(sum(charged), 0) AS charged,
  ifnull(sum(no_cost), 0) AS no_cost, ifnull(sum(no_charge), 0) AS no_charge
FROM job_sums WHERE @job IN (0, job_id)`

	// hourSums and lineSums add up what is between dates.
	hourSums = `SELECT ifnull(sum(minutes), 0) AS minutes, ifnull(sum(cost), 0) AS labour, ifnull(sum(charge), 0) AS charge,
  ifnull(sum(iif(charge IS NULL, 0, cost)), 0) AS charged, count(*) - count(cost) AS no_cost, ifnull(sum(unpriced), 0) AS no_charge
FROM time_entries WHERE date BETWEEN @from AND @to`
	lineSums = `SELECT ifnull(sum(landed), 0) AS other, ifnull(sum(charge), 0) AS charge,
  ifnull(sum(iif(charge IS NULL, 0, landed)), 0) AS charged FROM cost_lines WHERE date BETWEEN @from AND @to`
)

// uncharged is what work without a charge cost, by the reason: its job or phase is not on time and materials, it is not billable, or there
// is no price for it.
const uncharged = `SELECT CASE WHEN u.job_id IS NULL THEN 'Without a job' WHEN b.basis <> 'tm' THEN 'On a fixed price or our own'
    WHEN u.billable = 0 THEN 'Not billable' ELSE 'Without a price' END AS reason, sum(u.cost) AS cost FROM (
  SELECT job_id, ifnull(phase_id, 0) AS phase_id, billable, sum(cost) AS cost FROM time_entries INDEXED BY time_entries_uncharged
    WHERE charge IS NULL AND date BETWEEN @from AND @to AND @job IN (0, job_id)
    AND (@crew = '' OR worker_id IN (SELECT id FROM workers WHERE crew = @crew)) GROUP BY 1, 2, 3
  UNION ALL
  SELECT job_id, ifnull(phase_id, 0), billable, sum(landed) FROM cost_lines INDEXED BY cost_lines_uncharged
    WHERE charge IS NULL AND date BETWEEN @from AND @to AND (@job = 0 OR job_id = @job) AND @crew = '' GROUP BY 1, 2, 3) u
  LEFT JOIN basis_of_work b ON b.job_id = u.job_id AND b.phase_id = u.phase_id
  GROUP BY 1 HAVING sum(u.cost) <> 0 ORDER BY 2 DESC`
