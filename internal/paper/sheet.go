package paper

import (
	"bytes"
	"fmt"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"jarvo/internal/core/calendar"
	"jarvo/internal/face"
)

// The measures of a paper, in millimetres, and of its type, in points.
const (
	marginSide   = 20.0
	marginTop    = 16.0
	marginBottom = 20.0
	lineTall     = 4.6
	typeBody     = 8.5
	typeSmall    = 6.8
)

// pageCount stands for the number of pages until it is known.
const pageCount = "{pages}"

// sheet is a paper while it is drawn, from the top down. It begins a page where the next thing does not fit.
type sheet struct {
	*fpdf.Fpdf
	y, wide, tall float64
	accent        [3]int
	tint          bool   // what is written is in the accent
	onPage        func() // draws the head of a page that goes on
	before        func() // draws the foot of a page that will go on
	drawn         map[string]bool
}

// weight is how a text is set.
type weight int

const (
	plainly weight = iota
	boldly
	quietly
)

// align is where in its column a text stands.
type aligned string

const (
	toLeft  aligned = "L"
	toRight aligned = "R"
)

func newSheet(size, title, author string) *sheet { return newSheetOn("P", size, title, author) }

// newSheetOn is a paper that stands (P) or lies (L).
func newSheetOn(way, size, title, author string) *sheet {
	if size != "letter" {
		size = "a4"
	}
	s := &sheet{Fpdf: fpdf.New(way, "mm", size, ""), drawn: map[string]bool{}}
	s.wide, s.tall = s.GetPageSize()
	s.AddUTF8FontFromBytes("main", "", face.Regular)
	s.AddUTF8FontFromBytes("main", "B", face.Bold)
	s.SetMargins(marginSide, marginTop, marginSide)
	s.SetAutoPageBreak(false, 0)
	s.SetCompression(true)
	s.SetTitle(face.Printable(title), true)
	s.SetAuthor(face.Printable(author), true)
	s.SetCreator("Jarvo", true)
	s.SetLang("en")
	s.AliasNbPages(pageCount)
	return s
}

// dated says when a paper is of, so that the same paper has the same bytes whenever it is drawn.
func (s *sheet) dated(date string) {
	if d, err := calendar.Parse(date); err == nil {
		s.SetCreationDate(d.Time())
		s.SetModificationDate(d.Time())
		s.SetCatalogSort(true)
	}
}

// inAccent makes a colour such as #2f4575 that of heads and rules; blank is black.
func (s *sheet) inAccent(colour string) {
	if _, err := fmt.Sscanf(colour, "#%02x%02x%02x", &s.accent[0], &s.accent[1], &s.accent[2]); err != nil {
		s.accent = [3]int{}
	}
}

func (s *sheet) right() float64  { return s.wide - marginSide }
func (s *sheet) bottom() float64 { return s.tall - marginBottom }
func (s *sheet) across() float64 { return s.wide - 2*marginSide }

// page begins a page.
func (s *sheet) page() {
	s.AddPage()
	s.y = marginTop
}

// need begins a page where so much does not fit on this one.
func (s *sheet) need(tall float64) {
	if s.y+tall <= s.bottom() {
		return
	}
	if s.before != nil {
		s.before()
	}
	s.page()
	if s.onPage != nil {
		s.onPage()
	}
}

// set chooses the font for a text.
func (s *sheet) set(text string, size float64, w weight) {
	family, style := "main", ""
	if face.NeedsOther(text) {
		family = "other"
		if !s.drawn[family] {
			s.AddUTF8FontFromBytes(family, "", face.Other)
			s.AddUTF8FontFromBytes(family, "B", face.OtherBold)
			s.drawn[family] = true
		}
	}
	if w == boldly {
		style = "B"
	}
	s.SetFont(family, style, size)
	switch {
	case s.tint:
		s.SetTextColor(s.accent[0], s.accent[1], s.accent[2])
	case w == quietly:
		s.SetTextColor(92, 98, 112)
	default:
		s.SetTextColor(0, 0, 0)
	}
}

// lines breaks a text into lines of a width.
func (s *sheet) lines(text string, wide, size float64, w weight) []string {
	text = face.Printable(text)
	s.set(text, size, w)
	var out []string
	for _, line := range strings.Split(text, "\n") {
		out = append(out, s.broken(line, wide)...)
	}
	return out
}

func (s *sheet) broken(line string, wide float64) (out []string) {
	current := ""
	for _, word := range strings.Fields(line) {
		for s.GetStringWidth(word) > wide { // a word that is wider than its column is cut
			at := len([]rune(word))
			for at > 1 && s.GetStringWidth(string([]rune(word)[:at])) > wide {
				at--
			}
			if current != "" {
				out, current = append(out, current), ""
			}
			out = append(out, string([]rune(word)[:at]))
			word = string([]rune(word)[at:])
		}
		joined := strings.TrimSpace(current + " " + word)
		if s.GetStringWidth(joined) > wide && current != "" {
			out, joined = append(out, current), word
		}
		current = joined
	}
	return append(out, current)
}

// put writes one line at a place of its own; it does not move down.
func (s *sheet) put(x, y, wide float64, text string, size float64, w weight, a aligned) {
	text = face.Printable(text)
	s.set(text, size, w)
	s.SetXY(x, y)
	s.CellFormat(wide, lineTall, text, "", 0, string(a)+"M", false, 0, "")
}

// block writes a text in as many lines as it needs, from where it stands, and gives where it ends.
func (s *sheet) block(x, y, wide float64, text string, size float64, w weight, a aligned) float64 {
	for _, line := range s.lines(text, wide, size, w) {
		s.put(x, y, wide, line, size, w, a)
		y += size * lineTall / typeBody
	}
	return y
}

// rule draws a line across from one place to another.
func (s *sheet) rule(from, to, y, thick float64) {
	s.SetDrawColor(s.accent[0], s.accent[1], s.accent[2])
	s.SetLineWidth(thick)
	s.Line(from, y, to, y)
}

// across the paper, behind what stands on it, in large pale letters.
func (s *sheet) stamp(word string) {
	s.set(word, 110, boldly)
	s.SetTextColor(232, 229, 222)
	s.TransformBegin()
	s.TransformRotate(50, s.wide/2, s.tall/2)
	s.SetXY(0, s.tall/2-20)
	s.CellFormat(s.wide, 40, word, "", 0, "CM", false, 0, "")
	s.TransformEnd()
}

func (s *sheet) bytes() ([]byte, error) {
	var out bytes.Buffer
	err := s.Output(&out)
	return out.Bytes(), err
}
