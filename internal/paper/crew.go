package paper

import (
	"strings"

	"github.com/johnfercher/maroto/v2"
	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/page"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/consts/orientation"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"

	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
)

// The columns of a crew's paper, of a grid of 24.
const (
	crewGrid    = 28
	workerWide  = 5
	placeWide   = 7
	dayWide     = 2
	blankLine   = 7.5
	notedLines  = 6
	travelLines = 5
	boughtLines = 8
)

// CrewPDF is a crew's week on paper: filled in, or blank, with room for hours, travel, materials, notes and a signature.
func CrewPDF(p timesheet.CrewPaper, blank bool) ([]byte, error) {
	fonts, err := paperFonts()
	if err != nil {
		return nil, err
	}
	m := maroto.New(paperOn(fonts, "Crew sheet "+p.Crew, p.Company).WithOrientation(orientation.Horizontal).WithMaxGridSize(crewGrid).Build())
	m.AddAutoRow(cell(crewGrid/2, p.Company, bold, func(t *props.Text) { t.Size, t.Bottom = 15, 2.5 }), cell(crewGrid/2, crewTitle(p), right))
	m.AddRow(3)
	m.AddRows(crewHead(p))
	tall := rowTall + 1
	if blank {
		tall = blankLine
	}
	worker := ""
	for _, l := range p.Lines {
		name := l.Worker
		if name == worker {
			name = ""
		}
		worker = l.Worker
		m.AddRows(boxed(tall, append([]string{name, l.Place}, l.Hours...)...))
	}
	m.AddRows(boxed(tall, append([]string{"Hours", ""}, p.Hours...)...))
	for _, note := range p.Notes {
		m.AddAutoRow(cell(crewGrid, note, quiet))
	}
	m.AddRow(12, cell(8, "", quiet))
	m.AddRows(row.New(rowTall).Add(signed("Signed, foreman", 10), col.New(2), signed("Date", 4), col.New(2), signed("Checked", 10)))
	if blank {
		m.AddPages(page.New().Add(blanks()...))
	}
	document, err := m.Generate()
	if err != nil {
		return nil, err
	}
	return document.GetBytes(), nil
}

func crewTitle(p timesheet.CrewPaper) string {
	parts := []string{"Crew sheet", p.Crew}
	if p.Job != "" {
		parts = append(parts, "job "+p.Job)
	}
	if len(p.Days) > 0 {
		parts = append(parts, dayText(p.Days[0], "2 Jan")+" to "+dayText(p.Days[len(p.Days)-1], "2 Jan 2006"))
	}
	return strings.Join(parts, ", ")
}

func crewHead(p timesheet.CrewPaper) core.Row {
	cells := []string{"Worker", "Job, phase, cost code"}
	for _, d := range p.Days {
		cells = append(cells, dayText(d, "Mon 2"))
	}
	return boxed(rowTall+1, append(cells, "Week")...)
}

func dayText(date, layout string) string {
	d, err := calendar.Parse(date)
	if err != nil {
		return date
	}
	return d.Time().Format(layout)
}

var box = &props.Cell{BorderType: border.Full, BorderColor: rule, BorderThickness: 0.2}

// boxed lays cells out in the columns of a crew's paper, each in a box to write into, as tall as said or as the text in it.
func boxed(tall float64, cells ...string) core.Row {
	r, room := row.New(), func(t *props.Text) { t.Bottom = tall - bodyTall - 1 }
	for i, s := range cells {
		switch i {
		case 0:
			r.Add(cell(workerWide, " "+s, bold, room).WithStyle(box))
		case 1:
			r.Add(cell(placeWide, " "+s, func(t *props.Text) { t.Size = 7.5 }, room).WithStyle(box))
		default:
			r.Add(cell(dayWide, s+" ", right, room).WithStyle(box))
		}
	}
	return r
}

// blanks are the back of a blank paper: what is written down beside the hours.
func blanks() []core.Row {
	var rows []core.Row
	part := func(title string, lines int, columns ...string) {
		rows = append(
			rows, row.New(partTall).Add(text.NewCol(crewGrid, title, styled(func(t *props.Text) { t.Style, t.Top = fontstyle.Bold, 3 }))),
		)
		wide := crewGrid / len(columns)
		head := row.New(rowTall)
		for _, c := range columns {
			head.Add(cell(wide, " "+c, quiet))
		}
		rows = append(rows, head)
		for range lines {
			line := row.New(blankLine)
			for range columns {
				line.Add(col.New(wide).WithStyle(box))
			}
			rows = append(rows, line)
		}
	}
	part("Travel", travelLines, "Day", "Who", "From and to", "Distance")
	part("Materials and plant", boughtLines, "Day", "What", "How much", "From where")
	part("Notes", notedLines, "")
	return rows
}

func signed(what string, wide int) core.Col {
	return cell(wide, what, quiet).WithStyle(&props.Cell{BorderType: border.Top, BorderColor: inkLine, BorderThickness: 0.2})
}
