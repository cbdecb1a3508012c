package timesheet

import (
	"cmp"
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/register"
)

// CrewPaper is a crew's week to be printed: filled in, or blank for the crew to fill in. There is no money in it.
type CrewPaper struct {
	Company string
	// As the company's other papers are.
	Country, Currency, PaperSize, Accent string

	Crew  string
	Job   string
	Days  []string // dates
	Lines []CrewPaperLine
	Hours []string // by day, and of the week
	Notes []CrewNote
}

// CrewNote is what was noted of a worker's hours of a day.
type CrewNote struct{ Date, Worker, Text string }

// CrewPaperLine is a worker on a job, with the hours of each day and of the week.
type CrewPaperLine struct {
	Worker, Place string
	Hours         []string
}

// Paper is what is printed of a crew's week. A blank one has the crew's workers, and the job where one is named.
func Paper(ctx context.Context, b *book.Book, actor book.Actor, q SheetQuery, blank bool) (CrewPaper, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (out CrewPaper, _ error) {
		sheet, err := sheet(s, q)
		if err != nil {
			return out, err
		}
		co := s.Company
		out = CrewPaper{
			Company: co.CompanyName, Country: co.Country, Currency: co.Currency, PaperSize: co.PaperSize, Accent: co.Accent,
			Crew: cmp.Or(q.Crew, "All crews"), Days: sheet.Days,
		}
		if q.Job != "" {
			job, err := register.JobByNumber(s, q.Job)
			if err != nil {
				return out, err
			}
			out.Job = job.Number + " " + job.Name
		}
		if blank {
			for _, m := range sheet.Members {
				out.Lines = append(
					out.Lines, CrewPaperLine{Worker: m.Name, Place: out.Job, Hours: make([]string, len(sheet.Days)+1)},
					CrewPaperLine{Hours: make([]string, len(sheet.Days)+1)},
				)
			}
			out.Hours = make([]string, len(sheet.Days)+1)
			return out, nil
		}
		for _, l := range sheet.Lines {
			line := CrewPaperLine{Worker: l.Worker.Name, Place: l.Place()}
			for _, c := range l.Cells {
				line.Hours = append(line.Hours, c.Hours)
				if c.Note != "" {
					out.Notes = append(out.Notes, CrewNote{c.Date, l.Worker.Name, c.Note})
				}
			}
			line.Hours = append(line.Hours, l.Hours)
			out.Lines = append(out.Lines, line)
		}
		out.Hours = append(append([]string{}, sheet.DayHours...), sheet.Hours)
		return out, nil
	})
}

// Place names the job, phase and cost code of a line.
func (l SheetLine) Place() string {
	text := l.Job.Code + " " + l.Job.Name
	if l.Phase != nil {
		text += ", " + l.Phase.Name
	}
	if l.CostCode != nil {
		text += ", " + l.CostCode.Code + " " + l.CostCode.Name
	}
	return text
}
