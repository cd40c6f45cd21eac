package view

import (
	"cmp"
	"fmt"
	"io"

	"epitome/core/bench"
	"epitome/core/stock"
)

// A RoundSlip is one machine of a round with its slip.
type RoundSlip struct {
	Line bench.RoundLine
	Slip bench.Slip
}

// RoundPDF writes the one order of a round, and behind it each machine's slip and sheet to
// fit by. paper is "A4" or "letter".
func RoundPDF(w io.Writer, r *bench.Round, slips []RoundSlip, heading []string, date, paper string) error {
	s := newSheet("Memory for "+count(len(slips), "machine"), paper)
	s.AddPage()
	s.order(r, slips, heading, date)
	for _, d := range slips {
		s.docket(d.Slip)
	}
	return s.Output(w)
}

// order is the page to buy from.
func (s *sheet) order(r *bench.Round, slips []RoundSlip, heading []string, date string) {
	for _, h := range heading {
		s.line("", 10, h)
	}
	s.line("B", 16, s.title)
	s.line("", 10, date)
	s.gap(1)
	s.Line(pdfMargin, s.GetY(), pdfMargin+s.width, s.GetY())
	s.gap(3)
	s.line("", 10, roundSays(r))
	s.gap(2)
	if len(r.Buying) == 0 {
		s.line("B", 12, "Nothing is bought.")
	}
	for _, b := range r.Buying {
		if s.GetY() > 262 {
			s.AddPage()
		}
		y := s.GetY()
		s.Rect(pdfMargin+0.5, y+0.9, 3.6, 3.6, "D")
		s.SetXY(pdfMargin+7, y)
		s.SetFont("Helvetica", "B", 10.5)
		right := 0.0
		if r.Priced {
			right = 30
			s.SetXY(pdfMargin+s.width-right, y)
			s.CellFormat(right, 5.2, s.text((b.Price * stock.Money(b.Units)).String()), "", 0, "R", false, 0, "")
			s.SetXY(pdfMargin+7, y)
		}
		s.MultiCell(s.width-7-right, 5.2, s.text(fmt.Sprintf("%d × %s", b.Units, unitWords(b))), "", "L", false)
		each := ""
		if r.Priced {
			each = b.Price.String() + " each, "
		}
		s.SetX(pdfMargin + 7)
		s.SetFont("Helvetica", "", 9.5)
		which := cmp.Or(stock.Ordered(b.SKU, "", b.Row, b.Text), "no article number")
		s.MultiCell(s.width-7-right, 4.6, s.text(fmt.Sprintf("%s, %sfor %s", which, each,
			few(b.For))), "", "L", false)
		s.gap(1.5)
	}
	if r.Priced {
		s.gap(1)
		s.line("B", 12, "Cost "+amount(r.Cost, r.Currency))
	}
	if len(r.Left) > 0 {
		s.gap(2)
		s.line("", 10, "Left over for the drawer: "+partsWords(r.Left, ", ")+".")
	}
	if len(slips) == 0 {
		return
	}
	s.gap(4)
	s.line("B", 12, "Machines")
	for _, d := range slips {
		s.row(d.Line.Name, roundWords(d.Line), "B")
	}
}
