package paper

import (
	"context"
	"fmt"
	"strings"

	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/locale"
)

// The measures of a crew's paper, in millimetres, and how much is on the back of a blank one.
const (
	workerWide = 46.0
	dayWide    = 14.0
	weekWide   = 16.0
	filledTall = 6.2 // a row that is filled in
	blankTall  = 8.5 // a row to write into
	signedTall = 18.0
	fewNotes   = 4 // that stay on the page of the hours

	travelLines = 5
	boughtLines = 8
	notedLines  = 5
)

// crewPaper is a crew's paper while it is drawn.
type crewPaper struct {
	*sheet
	locale.Locale
	of     timesheet.CrewPaper
	least  float64 // how tall a row is
	worker string  // of the row above, on the same page
}

// CrewPDF is a crew's week on paper: filled in, or blank, with room for hours, travel, materials and notes. It is signed where its
// hours are summed, and each page has the days over its columns.
func CrewPDF(ctx context.Context, of timesheet.CrewPaper, blank bool) ([]byte, error) {
	return inTurn(ctx, func() ([]byte, error) { return crewPDF(of, blank) })
}

func crewPDF(of timesheet.CrewPaper, blank bool) ([]byte, error) {
	p := &crewPaper{
		sheet: newSheetOn("L", of.PaperSize, "Crew sheet "+of.Crew, of.Company), Locale: locale.Of(of.Country, of.Currency), of: of,
		least: filledTall,
	}
	if blank {
		p.least = blankTall
	}
	p.inAccent(of.Accent)
	if len(of.Days) > 0 {
		p.dated(of.Days[0])
	}
	p.SetFooterFunc(p.foot)
	p.onPage = p.heads
	p.page()
	p.put(marginSide, p.y, p.across()/2, of.Company, 14, boldly, toLeft)
	p.put(marginSide+p.across()/2, p.y, p.across()/2, p.title(), typeBody, plainly, toRight)
	p.y += 9
	p.heads()
	for i, l := range of.Lines {
		after := 0.0
		if i == len(of.Lines)-1 {
			after = p.least + signedTall + lineTall*float64(min(len(of.Notes), fewNotes)) // who signs sees the last of what they sign for
		}
		p.row(l, after)
	}
	p.boxes(append([]string{"Hours", ""}, p.figures(of.Hours)...), boldly, 0)
	p.signed()
	p.onPage = nil
	for _, note := range of.Notes {
		text := p.Day(note.Date) + ", " + note.Worker + ": " + note.Text
		p.need(lineTall * float64(len(p.lines(text, p.across(), typeBody, quietly))))
		p.y = p.block(marginSide, p.y, p.across(), text, typeBody, quietly, toLeft)
	}
	if blank {
		p.back()
	}
	return p.bytes()
}

func (p *crewPaper) title() string {
	parts := []string{"Crew sheet", p.of.Crew}
	if p.of.Job != "" {
		parts = append(parts, "job "+p.of.Job)
	}
	if n := len(p.of.Days); n > 0 {
		parts = append(parts, p.Span(p.of.Days[0], p.of.Days[n-1]))
	}
	return strings.Join(parts, ", ")
}

// foot stands at the foot of every page.
func (p *crewPaper) foot() {
	y := p.tall - marginBottom + 8
	p.put(marginSide, y, p.across()-60, p.lines(p.title(), p.across()-60, typeSmall, quietly)[0], typeSmall, quietly, toLeft)
	p.put(p.right()-60, y, 56, fmt.Sprintf("page %d of ", p.PageNo()), typeSmall, quietly, toRight)
	p.put(p.right()-5, y, 6, pageCount, typeSmall, quietly, toLeft)
}

// columns are how wide the columns are: worker, place, each day, the week.
func (p *crewPaper) columns() []float64 {
	wide := []float64{workerWide, p.across() - workerWide - dayWide*float64(len(p.of.Days)) - weekWide}
	for range p.of.Days {
		wide = append(wide, dayWide)
	}
	return append(wide, weekWide)
}

// heads stand over the columns of every page.
func (p *crewPaper) heads() {
	p.worker = ""
	cells := []string{"Worker", "Job, phase, cost code"}
	for _, date := range p.of.Days {
		if d, err := calendar.Parse(date); err == nil {
			date = d.Time().Format("Mon 2")
		}
		cells = append(cells, date)
	}
	p.boxes(append(cells, "Week"), quietly, filledTall)
}

// row is a worker on a job; so much has to fit under it.
func (p *crewPaper) row(l timesheet.CrewPaperLine, after float64) {
	cells := append([]string{l.Worker, l.Place}, p.figures(l.Hours)...)
	p.need(p.rowTall(cells) + after)
	if l.Worker == p.worker {
		cells[0] = ""
	}
	p.worker = l.Worker
	p.boxes(cells, plainly, 0)
}

func (p *crewPaper) figures(hours []string) []string {
	out := make([]string, len(hours))
	for i, h := range hours {
		out[i] = p.Figure(h)
	}
	return out
}

// rowTall is how tall a row is: as its longest text, and no less than there is to be written into.
func (p *crewPaper) rowTall(cells []string) float64 {
	lines := 1
	for i, wide := range p.columns()[:2] {
		lines = max(lines, len(p.lines(cells[i], wide-3, typeBody, boldly)))
	}
	return max(p.least, float64(lines)*lineTall+1.6)
}

// boxes draws the cells of a row in boxes to write into; tall is 0 for a row as tall as it has to be.
func (p *crewPaper) boxes(cells []string, w weight, tall float64) {
	if tall == 0 {
		tall = p.rowTall(cells)
	}
	p.SetDrawColor(150, 146, 136)
	p.SetLineWidth(0.15)
	x := marginSide
	for i, wide := range p.columns() {
		p.Rect(x, p.y, wide, tall, "D")
		switch {
		case i >= len(cells):
		case i > 1:
			p.put(x, p.y+(tall-lineTall)/2, wide-1.5, cells[i], typeBody, w, toRight)
		case i == 0 && w == plainly: // who it is
			p.block(x+1.5, p.y+0.8, wide-3, cells[i], typeBody, boldly, toLeft)
		default:
			p.block(x+1.5, p.y+0.8, wide-3, cells[i], typeBody, w, toLeft)
		}
		x += wide
	}
	p.y += tall
}

// signed is where the hours are signed for.
func (p *crewPaper) signed() {
	p.y += 12
	x := marginSide
	for _, of := range []struct {
		what string
		wide float64
	}{{"Signed, foreman", 90}, {"Date", 35}, {"Checked", 90}} {
		p.rule(x, x+of.wide, p.y, 0.2)
		p.put(x, p.y+0.4, of.wide, of.what, typeSmall, quietly, toLeft)
		x += of.wide + 12
	}
	p.y += signedTall - 12
}

// back is the back of a blank paper: what is written down beside the hours.
func (p *crewPaper) back() {
	p.page()
	p.part("Travel", travelLines, "Day", "Who", "From and to", "Distance")
	p.part("Materials and plant", boughtLines, "Day", "What", "How much", "From where")
	p.part("Notes", notedLines, "")
}

// part is a table to write into.
func (p *crewPaper) part(title string, lines int, columns ...string) {
	const boxTall = 6.6
	p.put(marginSide, p.y, p.across(), title, typeBody, boldly, toLeft)
	p.y += 5
	wide := p.across() / float64(len(columns))
	if columns[0] != "" {
		for i, c := range columns {
			p.put(marginSide+float64(i)*wide+1.5, p.y, wide, c, typeSmall, quietly, toLeft)
		}
		p.y += 5
	}
	p.SetDrawColor(150, 146, 136)
	p.SetLineWidth(0.15)
	for range lines {
		for i := range columns {
			p.Rect(marginSide+float64(i)*wide, p.y, wide, boxTall, "D")
		}
		p.y += boxTall
	}
	p.y += 5
}
