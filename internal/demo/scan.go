package demo

import (
	"fmt"

	"github.com/johnfercher/maroto/v2"
	"github.com/johnfercher/maroto/v2/pkg/components/line"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/props"

	"jarvo/internal/app/costs"
)

// scan is a supplier's invoice on paper, as it would have come with the goods.
func scan(d costs.Document) ([]byte, error) {
	m := maroto.New()
	bold := props.Text{Size: 15, Style: fontstyle.Bold}
	right := props.Text{Size: 10, Align: align.Right}
	m.AddRow(12, text.NewCol(8, d.Supplier, bold), text.NewCol(4, "Invoice "+d.Number, right))
	m.AddRow(8, text.NewCol(8, Company), text.NewCol(4, d.Date, right))
	m.AddRow(14)
	m.AddRow(8, text.NewCol(6, "Item"), text.NewCol(2, "Quantity", right), text.NewCol(2, "Each", right), text.NewCol(2, "Amount", right))
	m.AddRow(3, line.NewCol(12))
	for _, l := range d.Lines {
		m.AddRow(
			9, text.NewCol(6, l.Description), text.NewCol(2, l.Quantity+" "+l.Unit, right), text.NewCol(2, l.UnitCost, right),
			text.NewCol(2, l.Base, right),
		)
	}
	m.AddRow(3, line.NewCol(12))
	for _, sum := range [][2]string{{"Goods", d.Goods}, {"Freight", d.Freight}, {"Tax", d.Tax}, {"To pay", d.Total}} {
		m.AddRow(8, text.NewCol(10, sum[0], right), text.NewCol(2, sum[1], right))
	}
	paper, err := m.Generate()
	if err != nil {
		return nil, fmt.Errorf("drawing %s: %w", d.Number, err)
	}
	return paper.GetBytes(), nil
}
