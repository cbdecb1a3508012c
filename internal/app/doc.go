// Package app is the house of the use cases: a package an activity, ten floors of them. A package imports only from floors below its own.
//
//	0  refuse
//	1  form, limits
//	2  book                                                                       the kernel
//	3  register, ratebook
//	4  drafting, receivable, scope, holes, history, access, pricelist
//	5  costing
//	6  timesheet, costs, rates, jobs, billing, people, customers, suppliers, company, pages
//	7  clock, collect, payback, tape, reports, verify, find, daylog
//	8  looseends, messages
//	9  approve, exchange, today
//
// The linter holds the floors (.golangci.yml); docs/architecture.md says what is where, and how to add to it. Here are the tests of a whole
// book: the worked cases, a second computation of all rules, companies at random, the plans of queries, and the benchmarks.
package app
