package bundle

import (
	"cmp"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"
)

// What office programs make of a bundle's files when they save them, read back: decimal commas, and dates as they are written in some
// country or as the number of a day.

var (
	wholeComma   = regexp.MustCompile(`^-?\d+(,\d+)?$`)
	groupedComma = regexp.MustCompile(`^-?\d{1,3}(\.\d{3})+(,\d+)?$`)
	slashed      = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})/(\d{4})$`)
	dotted       = regexp.MustCompile(`^(\d{1,2})\.(\d{1,2})\.(\d{4})$`)
	dayNumber    = regexp.MustCompile(`^\d{5}$`)
)

// decimalComma is a figure of a file whose cells are parted by semicolons, with a decimal point.
func decimalComma(cell string) string {
	switch {
	case wholeComma.MatchString(cell):
		return strings.Replace(cell, ",", ".", 1)
	case groupedComma.MatchString(cell):
		return strings.Replace(strings.ReplaceAll(cell, ".", ""), ",", ".", 1)
	}
	return cell
}

// The numbers of days that are taken for dates: of spreadsheets, which count from the end of 1899.
const (
	firstDay = 20_000 // 1954
	lastDay  = 80_000 // 2119
)

var dayNought = time.Date(1899, time.December, 30, 0, 0, 0, 0, time.UTC)

// order is how the slashed dates of a column are written.
type order int

const (
	unknown order = iota
	dayFirst
	monthFirst
)

// readDates reads the dates of a column as they were rewritten. Which of day and month comes first in slashed ones is told by those of them
// that leave no doubt; where none does, each is a problem that says how to write it.
func readDates(table Table, rows []Row, column int, problems *Problems) {
	name := table.Columns[column].Name
	how := orderOf(rows, column)
	for _, row := range rows {
		cell := row.values[column]
		switch {
		case slashed.MatchString(cell):
			parts := slashed.FindStringSubmatch(cell)
			first, second := written(parts[3], parts[2], parts[1]), written(parts[3], parts[1], parts[2])
			switch {
			case first == "" && second == "": // told where it is read
			case how == dayFirst && first != "":
				row.values[column] = first
			case how == monthFirst && second != "":
				row.values[column] = second
			case how == unknown && first == second && first != "":
				row.values[column] = first
			default:
				problems.Add(
					table.File, row.Line, name, "%q could be %s or %s; write it as %s", cell, inWords(first), inWords(second),
					cmp.Or(first, "2026-09-03"),
				)
				row.values[column] = cmp.Or(first, second) // told already
			}
		case dotted.MatchString(cell):
			parts := dotted.FindStringSubmatch(cell)
			if date := written(parts[3], parts[2], parts[1]); date != "" {
				row.values[column] = date
			}
		case dayNumber.MatchString(cell):
			if n, _ := strconv.Atoi(cell); n >= firstDay && n <= lastDay {
				row.values[column] = dayNought.AddDate(0, 0, n).Format(time.DateOnly)
			}
		}
	}
}

func orderOf(rows []Row, column int) order {
	seen := unknown
	for _, row := range rows {
		parts := slashed.FindStringSubmatch(row.values[column])
		if parts == nil {
			continue
		}
		day, month := written(parts[3], parts[2], parts[1]), written(parts[3], parts[1], parts[2])
		this := unknown
		switch {
		case day != "" && month == "":
			this = dayFirst
		case month != "" && day == "":
			this = monthFirst
		}
		if this == unknown {
			continue
		}
		if seen != unknown && seen != this {
			return unknown // both ways in one column
		}
		seen = this
	}
	return seen
}

// written is a date as the bundle writes it; blank where there is no such day.
func written(year, month, day string) string {
	t, err := time.Parse("2006-1-2", year+"-"+month+"-"+day)
	if err != nil {
		return ""
	}
	return t.Format(time.DateOnly)
}

func inWords(date string) string {
	t, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return "no date at all"
	}
	return t.Format("2 January 2006")
}

// nearest is the column whose name is most like another, blank where none is.
func (t Table) nearest(name string) string {
	best, distance := "", 3
	for _, c := range t.Columns {
		if d := edits(name, c.Name); d < distance ||
			strings.ReplaceAll(c.Name, "_", "") == strings.NewReplacer("_", "", " ", "", "-", "").Replace(name) {
			best, distance = c.Name, min(d, distance)
		}
	}
	return best
}

// edits is how many letters have to be added, taken out or changed to make one word of another.
func edits(a, b string) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := 1; i <= len(a); i++ {
		corner := row[0]
		row[0] = i
		for j := 1; j <= len(b); j++ {
			change := corner
			if a[i-1] != b[j-1] {
				change++
			}
			corner = row[j]
			row[j] = min(change, row[j]+1, row[j-1]+1)
		}
	}
	return row[len(b)]
}

// didYouMean proposes a column.
func (t Table) didYouMean(name string) string {
	if near := t.nearest(name); near != "" {
		return fmt.Sprintf("; did you mean %s?", near)
	}
	return ""
}
