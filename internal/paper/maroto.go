package paper

import (
	"slices"
	"strings"

	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/config"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/consts/pagesize"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/core/entity"
	"github.com/johnfercher/maroto/v2/pkg/props"
	"github.com/johnfercher/maroto/v2/pkg/repository"

	"jarvo/internal/face"
)

const (
	faceName  = "go"
	otherName = "other" // for texts with signs that the face lacks
	body      = 9.0
	rowTall   = 5.5
	partTall  = 8.0

	bodyTall    = 3.2 // a line of the body
	longestWord = 34  // characters; a longer word is broken
)

var (
	soft    = &props.Color{Red: 92, Green: 98, Blue: 112}
	rule    = &props.Color{Red: 185, Green: 173, Blue: 148}
	inkLine = &props.Color{Red: 34, Green: 38, Blue: 47}
)

func plain() props.Text {
	return props.Text{Family: faceName, Size: body, Top: 1, Bottom: rowTall - bodyTall - 1}
}

// printed is a text as it can be printed: in the characters of the face, with its long words broken, so that none runs over its column.
func printed(s string) string {
	words := strings.Split(face.Printable(s), " ")
	for i, word := range words {
		var parts []string
		for part := range slices.Chunk([]rune(word), longestWord) {
			parts = append(parts, string(part))
		}
		words[i] = strings.Join(parts, " ")
	}
	return strings.Join(words, " ")
}

func styled(change func(*props.Text)) props.Text {
	p := plain()
	change(&p)
	return p
}

var (
	right = func(p *props.Text) { p.Align = align.Right }
	bold  = func(p *props.Text) { p.Style = fontstyle.Bold }
	quiet = func(p *props.Text) { p.Color = soft }
)

func cell(width int, s string, changes ...func(*props.Text)) core.Col {
	p := plain()
	for _, change := range changes {
		change(&p)
	}
	if face.NeedsOther(s) {
		p.Family = otherName
	}
	return text.NewCol(width, printed(s), p)
}

func paperFonts() ([]*entity.CustomFont, error) {
	return repository.New().AddUTF8FontFromBytes(
		faceName, fontstyle.Normal, face.Regular,
	).AddUTF8FontFromBytes(faceName, fontstyle.Bold, face.Bold).
		AddUTF8FontFromBytes(otherName, fontstyle.Normal, face.Other).AddUTF8FontFromBytes(otherName, fontstyle.Bold, face.OtherBold).Load()
}

// paperOn is a paper in the house's face, with its pages numbered.
func paperOn(fonts []*entity.CustomFont, title, company string) config.Builder {
	return config.NewBuilder().
		WithPageSize(pagesize.A4).WithLeftMargin(12).WithRightMargin(12).WithTopMargin(12).WithBottomMargin(16).
		WithCustomFonts(fonts).WithDefaultFont(&props.Font{Family: faceName, Size: body}).
		WithPageNumber(props.PageNumber{Pattern: "page {current} of {total}", Place: props.RightBottom, Family: faceName, Size: 7, Color: soft}).
		WithTitle(face.Printable(title), true).WithAuthor(face.Printable(company), true).WithCreator("Jarvo", true).WithCompression(true)
}
