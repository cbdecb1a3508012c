package demo

import (
	"bytes"
	"fmt"

	"codeberg.org/go-pdf/fpdf"

	"jarvo/internal/app/costs"
	"jarvo/internal/core/calendar"
)

// scan is a supplier's invoice on paper, as it would have come with the goods.
func scan(d costs.Document) ([]byte, error) {
	const left, wide = 20.0, 170.0
	p := fpdf.New("P", "mm", "A4", "")
	if on, err := calendar.Parse(d.Date); err == nil { // the same scan each time
		p.SetCreationDate(on.Time())
		p.SetModificationDate(on.Time())
	}
	p.SetCatalogSort(true)
	p.AddPage()
	y := 20.0
	// row writes cells that begin at so many parts of twelve; those after the first stand at their right.
	row := func(tall, size float64, style string, at []float64, cells ...string) {
		p.SetFont("Helvetica", style, size)
		for i, text := range cells {
			from, to, align := left+wide*at[i]/12, left+wide, "R"
			if i+1 < len(at) {
				to = left + wide*at[i+1]/12
			}
			if i == 0 {
				align = "L"
			}
			p.SetXY(from, y)
			p.CellFormat(to-from, tall, text, "", 0, align+"M", false, 0, "")
		}
		y += tall
	}
	columns := []float64{0, 6, 8, 10}
	row(12, 15, "B", []float64{0, 8}, d.Supplier, "")
	y -= 12
	row(12, 10, "", []float64{0, 8}, "", "Invoice "+d.Number)
	row(22, 10, "", []float64{0, 8}, Company, d.Date)
	row(8, 10, "", columns, "Item", "Quantity", "Each", "Amount")
	p.Line(left, y, left+wide, y)
	for _, l := range d.Lines {
		row(9, 10, "", columns, l.Description, l.Quantity+" "+l.Unit, l.UnitCost, l.Base)
	}
	p.Line(left, y, left+wide, y)
	for _, sum := range [][2]string{{"Goods", d.Goods}, {"Freight", d.Freight}, {"Tax", d.Tax}, {"To pay", d.Total}} {
		row(8, 10, "", []float64{0, 6, 10}, "", sum[0], sum[1])
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		return nil, fmt.Errorf("drawing %s: %w", d.Number, err)
	}
	return out.Bytes(), nil
}
