package view

import (
	"bytes"
	"fmt"
	"image/png"
	"io"
	"strings"
	"time"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
	"github.com/go-pdf/fpdf"

	"epitome/core/docket"
	"epitome/core/plain"
)

// jobCode is the job's number as a QR code, a PNG; nothing where there is no
// number.
func jobCode(job string) ([]byte, error) {
	if job == "" {
		return nil, nil
	}
	code, err := qr.Encode(job, qr.M, qr.Auto)
	if err != nil {
		return nil, err
	}
	if code, err = barcode.Scale(code, 200, 200); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err = png.Encode(&b, code)
	return b.Bytes(), err
}

// A sheet is a PDF in the making: millimetres, one font, text in Windows-1252.
type sheet struct {
	*fpdf.Fpdf
	text  func(string) string
	width float64 // between the margins
	title string  // at the foot of each page
}

const pdfMargin = 16

// DocketPDF writes the docket as a PDF. paper is "A4" or "letter". The same
// docket always makes the same bytes.
func DocketPDF(w io.Writer, d docket.Docket, paper string) error {
	s := newSheet(docketTitle(d), paper)
	s.docket(d)
	return s.Output(w)
}

// newSheet begins a PDF.
func newSheet(title, paper string) *sheet {
	f := fpdf.New("P", "mm", paper, "")
	f.SetCreationDate(time.Unix(0, 0).UTC())
	f.SetModificationDate(time.Unix(0, 0).UTC())
	f.SetCatalogSort(true)
	f.SetMargins(pdfMargin, pdfMargin, pdfMargin)
	f.SetAutoPageBreak(true, pdfMargin)
	translate := f.UnicodeTranslatorFromDescriptor("")
	page, _ := f.GetPageSize()
	s := &sheet{Fpdf: f, width: page - 2*pdfMargin, title: title,
		text: func(t string) string { return translate(latin.Replace(plain.Line(t))) }}
	f.SetTitle(plain.Line(title), true)
	f.SetFooterFunc(func() {
		f.SetY(-12)
		f.SetFont("Helvetica", "", 8)
		f.CellFormat(0, 5, s.text(fmt.Sprintf("%s   page %d", s.title, f.PageNo())), "", 0, "C", false, 0, "")
	})
	return s
}

// docket adds the two pages of a docket: the slip and the sheet to fit by.
func (s *sheet) docket(d docket.Docket) {
	s.AddPage()
	s.title = docketTitle(d)
	s.slip(d)
	s.AddPage()
	s.fitting(d)
}

// latin brings signs that the PDF's plain fonts lack to ones that they have.
var latin = strings.NewReplacer("→", "to", "≈", "about", "≠", "not", "−", "-")

func (s *sheet) line(style string, size float64, text string) {
	s.SetFont("Helvetica", style, size)
	s.MultiCell(s.width, size*0.46, s.text(text), "", "L", false)
}

func (s *sheet) gap(mm float64) { s.SetY(s.GetY() + mm) }

// row writes a word and what belongs to it, indented.
func (s *sheet) row(word, text string, style string) {
	const indent = 20
	s.SetFont("Helvetica", style, 9.5)
	y := s.GetY()
	s.CellFormat(indent, 4.6, s.text(word), "", 0, "L", false, 0, "")
	s.SetXY(pdfMargin+indent, y)
	s.SetFont("Helvetica", "", 9.5)
	s.MultiCell(s.width-indent, 4.6, s.text(text), "", "L", false)
}

// slip is the page to buy from.
func (s *sheet) slip(d docket.Docket) {
	top := s.GetY()
	if code, err := jobCode(d.Job); err == nil && len(code) > 0 {
		name := "job " + d.Job
		s.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
		s.ImageOptions(name, pdfMargin+s.width-24, top, 24, 24, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
	}
	full := s.width
	s.width -= 28
	for _, h := range d.Heading {
		s.line("", 10, h)
	}
	s.line("B", 16, docketTitle(d))
	s.line("", 10, strings.Join(docketLines(d), "   "))
	s.width = full
	s.SetY(max(s.GetY(), top+25))
	s.Line(pdfMargin, s.GetY(), pdfMargin+s.width, s.GetY())
	s.gap(3)
	if len(d.Waits) > 0 {
		s.line("B", 11, strings.ToUpper(waitsWords(d))+waitsTitle(d))
		for _, x := range d.Waits {
			s.line("", 10, "- "+x)
		}
		s.gap(2)
	}
	s.line("B", 11, verdictLine(d))
	s.gap(2)
	s.slots(d)
	for _, x := range d.Items {
		s.gap(4)
		s.line("B", 12, itemTitle(x))
		s.gap(1)
		for _, r := range itemRows(x) {
			s.row(r[0], r[1], "")
		}
		for _, c := range x.Accept {
			s.row("or", c.What+": "+c.Because+".", "")
		}
		for _, c := range x.Avoid {
			s.row("NOT", c.What+": "+c.Because+".", "B")
		}
	}
	if d.Cost != "" {
		s.gap(3)
		s.line("B", 12, "Cost "+d.Cost)
	}
}

// slots draws the map: sockets as boxes, free ones dashed, soldered banks with
// a double frame.
func (s *sheet) slots(d docket.Docket) {
	const high = 11
	for _, row := range docketMap(d) {
		if s.GetY()+high+3 > 270 {
			s.AddPage()
		}
		y := s.GetY()
		s.SetFont("Helvetica", "", 9)
		s.SetXY(pdfMargin, y)
		s.CellFormat(22, high, s.text(row.Channel), "", 0, "L", false, 0, "")
		wide := min(46, (s.width-22)/float64(len(row.Sites))-3)
		for i, site := range row.Sites {
			x := pdfMargin + 22 + float64(i)*(wide+3)
			if site.Class == "free" {
				s.SetDashPattern([]float64{1.2, 1.2}, 0)
			}
			s.Rect(x, y, wide, high, "D")
			s.SetDashPattern(nil, 0)
			if site.Class == "soldered" {
				s.Rect(x+0.8, y+0.8, wide-1.6, high-1.6, "D")
			}
			s.SetXY(x, y+1)
			s.SetFont("Helvetica", "", 8)
			s.CellFormat(wide, 4.5, s.text(clip(s, site.Name, wide-3)), "", 2, "C", false, 0, "")
			s.SetFont("Helvetica", map[bool]string{true: "B"}[site.New], 9)
			s.CellFormat(wide, 4.5, s.text(site.Holds), "", 0, "C", false, 0, "")
		}
		s.SetXY(pdfMargin, y+high+2)
	}
}

// clip shortens a name to a width.
func clip(s *sheet, name string, wide float64) string {
	runes := []rune(plain.Clip(name, drawnAtMost))
	for dots := ""; ; dots = "..." {
		if len(runes) <= 4 || s.GetStringWidth(s.text(string(runes)+dots)) <= wide {
			return string(runes) + dots
		}
		runes = runes[:len(runes)-1]
	}
}

// fitting is the sheet to fit by.
func (s *sheet) fitting(d docket.Docket) {
	s.line("B", 14, "Fitting")
	s.gap(2)
	step := 0
	numbered := func(style string, list []string, before string) {
		for _, x := range list {
			step++
			s.SetFont("Helvetica", style, 10.5)
			y := s.GetY()
			s.CellFormat(9, 5.4, fmt.Sprintf("%d.", step), "", 0, "R", false, 0, "")
			s.SetXY(pdfMargin+11, y)
			s.MultiCell(s.width-11, 5.4, s.text(before+x), "", "L", false)
			s.gap(1)
		}
	}
	last := len(d.Handling) - 1
	numbered("", d.Handling[:last], "")
	numbered("B", d.TakeOut, "Take ")
	numbered("B", d.Fit, "Put ")
	numbered("", d.Handling[last:], "")
	s.gap(4)
	s.line("B", 14, "Afterwards")
	s.gap(2)
	for _, r := range d.Expect {
		y := s.GetY()
		s.Rect(pdfMargin+1, y+0.8, 3.6, 3.6, "D")
		s.SetXY(pdfMargin+8, y)
		s.SetFont("Helvetica", "", 10.5)
		s.CellFormat(48, 5.4, s.text(r[0]), "", 0, "L", false, 0, "")
		s.MultiCell(0, 5.4, s.text(r[1]), "", "L", false)
	}
}
