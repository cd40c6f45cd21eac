package view

import (
	"fmt"
	"html"
	"io"
	"strings"

	"github.com/wcharczuk/go-chart/v2"
	"github.com/wcharczuk/go-chart/v2/drawing"

	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/trial"
)

// Sizes of a drawn slot map, in points.
const (
	mapMargin, mapTitleHigh   = 24, 40
	mapBoxWide, mapBoxHigh    = 210, 64
	mapGap, mapRowGap         = 18, 22
	mapLabelWide, mapLegendAt = 130, 34
)

// SlotMapOf is the map of a machine as it is.
func SlotMapOf(m machine.Machine) (title string, places []Site) {
	title, _, _ = strings.Cut(conclusion(m), ". ")
	return strings.TrimSuffix(title, ".") + ".", sites(m)
}

// SlotMapAfter is the map of a machine as a trial leaves it.
func SlotMapAfter(m machine.Machine, t trial.Trial) (title string, places []Site) {
	return trialSentence(t), trialSites(m, t)
}

// DrawSlotMap draws places by channel, from the controller outward, as SVG or
// PNG. Sockets, free sockets and soldered banks differ in form: a full frame, a
// dashed one, a double one.
func DrawSlotMap(w io.Writer, title string, places []Site, svg bool) error {
	rows := drawnRows(places)
	most := 1
	for _, r := range rows {
		most = max(most, len(r.sites))
	}
	wide := max(mapMargin*2+mapLabelWide+most*(mapBoxWide+mapGap), 700)
	high := mapMargin*2 + mapTitleHigh + len(rows)*(mapBoxHigh+mapRowGap) + mapLegendAt
	provider := chart.PNG
	if svg {
		provider = chart.SVG
	}
	r, err := provider(wide, high)
	if err != nil {
		return err
	}
	font, err := chart.GetDefaultFont()
	if err != nil {
		return err
	}
	d := &mapDrawing{r, svg}
	r.SetFont(font)
	d.box(0, 0, wide, high, drawing.ColorWhite, drawing.ColorWhite, nil)
	d.text(title, mapMargin, mapMargin+16, 13, wide-2*mapMargin)
	for i, row := range rows {
		y := mapMargin + mapTitleHigh + i*(mapBoxHigh+mapRowGap)
		label := "channel " + row.label
		if row.label == "?" {
			label = "channel not known"
		}
		d.text(label, mapMargin, y+mapBoxHigh/2+5, 11, mapLabelWide)
		x := mapMargin + mapLabelWide
		for _, s := range row.sites {
			d.line(x-mapGap, y+mapBoxHigh/2, x, y+mapBoxHigh/2)
			d.site(s, x, y)
			x += mapBoxWide + mapGap
		}
	}
	d.text("full frame: socket   dashed: free socket   double: soldered", mapMargin, high-mapMargin+4, 10, wide)
	if svg {
		w = NewCleaner(w, false)
	}
	return r.Save(w)
}

// drawnAtMost bounds a text that is shortened to fit a drawing, in characters.
const drawnAtMost = 120

// Bounds of a drawing: places side by side, and rows.
const (
	drawnInRow = 12
	drawnRowsN = 48
)

// drawnRows are a map's rows as they are drawn: a long one goes on in the next,
// and what no page could hold is left out and counted.
func drawnRows(places []Site) (out []channelRow) {
	for _, r := range channelRows(places) {
		for len(r.sites) > drawnInRow {
			out = append(out, channelRow{label: r.label, sites: r.sites[:drawnInRow]})
			r.sites = r.sites[drawnInRow:]
		}
		out = append(out, r)
	}
	if len(out) > drawnRowsN {
		left := 0
		for _, r := range out[drawnRowsN:] {
			left += len(r.sites)
		}
		out = append(out[:drawnRowsN], channelRow{label: fmt.Sprintf("and %d places more", left)})
	}
	return out
}

type mapDrawing struct {
	chart.Renderer
	svg bool
}

var mapInk = drawing.Color{R: 0x1d, G: 0x20, B: 0x21, A: 255}

func (d *mapDrawing) box(x, y, wide, high int, fill, stroke drawing.Color, dash []float64) {
	d.ResetStyle()
	d.SetFillColor(fill)
	d.SetStrokeColor(stroke)
	d.SetStrokeWidth(2)
	d.SetStrokeDashArray(dash)
	d.MoveTo(x, y)
	d.LineTo(x+wide, y)
	d.LineTo(x+wide, y+high)
	d.LineTo(x, y+high)
	d.LineTo(x, y)
	d.Close()
	d.FillStroke()
}

func (d *mapDrawing) line(x1, y1, x2, y2 int) {
	d.ResetStyle()
	d.SetStrokeColor(mapInk)
	d.SetStrokeWidth(2)
	d.MoveTo(x1, y1)
	d.LineTo(x2, y2)
	d.Stroke()
}

// text writes a line, shortened to a width.
func (d *mapDrawing) text(s string, x, y int, size float64, wide int) {
	font, err := chart.GetDefaultFont()
	if err != nil {
		return
	}
	d.ResetStyle()
	d.SetFont(font)
	d.SetFontColor(mapInk)
	d.SetFontSize(size)
	runes := []rune(plain.Clip(plain.Line(s), drawnAtMost))
	for len(runes) > 4 && d.MeasureText(string(runes)).Width() > wide {
		runes = append(runes[:len(runes)-4], '.', '.', '.')
	}
	out := string(runes)
	if d.svg {
		out = html.EscapeString(out) // the renderer writes text as it is
	}
	d.Text(out, x, y)
}

func (d *mapDrawing) site(s Site, x, y int) {
	var dash []float64
	if s.Form == FreeSocket || s.Form == UnclearPlace {
		dash = []float64{6, 5}
	}
	d.box(x, y, mapBoxWide, mapBoxHigh, drawing.ColorWhite, mapInk, dash)
	if s.Form == SolderedBank {
		d.box(x+4, y+4, mapBoxWide-8, mapBoxHigh-8, drawing.ColorWhite, mapInk, nil)
	}
	d.text(s.Name, x+14, y+26, 11, mapBoxWide-28)
	holds := s.Holds
	if s.Form == UnclearPlace {
		holds = fmt.Sprintf("%s, socket or soldered?", holds)
	}
	d.text(holds, x+14, y+48, 13, mapBoxWide-28)
}
