package view

import (
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"time"

	chart "github.com/wcharczuk/go-chart/v2"
	"github.com/wcharczuk/go-chart/v2/drawing"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
)

// verdictWords say what a measured series comes to.
var verdictWords = map[need.Verdict]string{
	need.Short: "short of memory", need.Tight: "enough, with next to no room", need.Comfortable: "comfortable",
	need.Elsewhere: "slow for another reason than memory", need.Unclear: "too little measured to tell",
}

// Needed lays out how much memory a user needs and why.
func (p *Page) Needed(a need.Answer, s maybe.Value[need.Summary]) {
	summary, measured := s.Get()
	if size, ok := a.Recommended.Get(); ok {
		headline := fmt.Sprintf("Needs %v.", size)
		if end, ok := a.Ends.Get(); ok {
			headline = fmt.Sprintf("Needs %v; %s ends at %v.", size, a.Because, end)
		}
		if helps, ok := a.Helps.Get(); ok {
			headline += map[bool]string{true: " More memory helps.", false: " More memory than now would change nothing."}[helps]
		}
		p.Headline(headline)
	} else if measured && summary.Verdict != need.Unclear {
		p.Headline(sentence(verdictWords[summary.Verdict]) + ".")
	} else {
		p.Headline("Can't be told yet: name the uses with --use, or watch with --watch while the user works.")
	}
	if len(a.Parts) > 0 {
		p.Blank()
		var rows [][]string
		for _, part := range a.Parts {
			rows = append(rows, []string{part.What, part.Size.String(), part.Why})
		}
		p.Table([]Column{{"Takes memory", Left, 26}, {"Size", Right, 0}, {"Why", Left, Rest}}, rows)
	}
	if measured {
		p.Blank()
		p.Heading(fmt.Sprintf("Measured over %v: %s", summary.Used.Round(time.Second), verdictWords[summary.Verdict]))
		p.list(summary.Why)
		p.list(summary.Lacks)
	}
	if len(a.Reasons)+len(a.Warnings) > 0 {
		p.Blank()
		p.Heading("So")
		p.list(a.Reasons)
		p.list(a.Warnings)
	}
	p.Blank()
	p.Para(17, "To the customer", "“"+a.Customer+"”")
}

func (p *Page) list(items []string) {
	for _, item := range items {
		p.Para(4, "  - ", sentence(item)+".")
	}
}

// WatchLine is the live line while watching.
func WatchLine(latest, before need.Sample) string {
	size := func(f need.Field) (jedec.Capacity, bool) {
		kib, ok := latest.Get(f)
		return jedec.Capacity(kib) * jedec.KiB, ok
	}
	line := "watching"
	if total, ok := size(need.Total); ok {
		if available, ok := size(need.Available); ok {
			line = fmt.Sprintf("in use %5.2f of %.2f GB", float64(total-available)/float64(jedec.GiB),
				float64(total)/float64(jedec.GiB))
		}
	}
	seconds := (latest.At - before.At).Seconds()
	change := func(f need.Field) (float64, bool) {
		a, ok1 := before.Get(f)
		b, ok2 := latest.Get(f)
		return float64(b-a) / seconds, ok1 && ok2 && seconds > 0 && b >= a
	}
	if us, ok := change(need.MemoryStall); ok {
		line += fmt.Sprintf(", waits %4.1f %%", min(100, us/1e4))
	}
	if pages, ok := change(need.SwapIn); ok {
		line += fmt.Sprintf(", swap-in %.0f/s", pages)
	}
	return line
}

// points are what a chart shows of a series: seconds and memory in GB, and
// steps of the share of time waited for memory, percent.
type points struct {
	at, used, total    []float64
	stepsAt, waitShare []float64
}

func chartPoints(series need.Series) (p points) {
	for i, s := range series {
		kib, ok1 := s.Get(need.Total)
		available, ok2 := s.Get(need.Available)
		if !ok1 || !ok2 {
			continue
		}
		const gib = 1 << 20 // in KiB
		p.at = append(p.at, s.At.Seconds())
		p.used = append(p.used, float64(kib-available)/gib)
		p.total = append(p.total, float64(kib)/gib)
		if i == 0 {
			continue
		}
		before := series[i-1]
		a, ok1 := before.Get(need.MemoryStall)
		b, ok2 := s.Get(need.MemoryStall)
		if dt := (s.At - before.At).Seconds(); ok1 && ok2 && dt > 0 && b >= a {
			share := min(100, float64(b-a)/dt/1e4)
			p.stepsAt = append(p.stepsAt, before.At.Seconds(), s.At.Seconds())
			p.waitShare = append(p.waitShare, share, share)
		}
	}
	return p
}

// clockTime writes seconds as minutes and seconds, or hours and minutes.
func clockTime(v any) string {
	seconds, _ := v.(float64)
	d := time.Duration(seconds) * time.Second
	if d >= 2*time.Hour {
		return fmt.Sprintf("%d:%02d h", int(d.Hours()), int(d.Minutes())%60)
	}
	return fmt.Sprintf("%d:%02d", int(d.Minutes()), int(d.Seconds())%60)
}

// inks are what charts are drawn with.
var inks = struct{ ink, blue, red drawing.Color }{drawing.ColorFromHex("1d2021"), drawing.ColorFromHex("2a6f97"),
	drawing.ColorFromHex("c0392b")}

// Chart draws a series: memory in use and in all on the left axis, time waited
// for memory on the right one. svg chooses between SVG and PNG.
func Chart(w io.Writer, series need.Series, svg bool) error {
	p := chartPoints(series)
	if len(p.at) < 2 {
		return fmt.Errorf("a chart wants two samples or more with figures of memory, the series has %d", len(p.at))
	}
	sizes := ticks(slices.Max(p.total)*1.1, sizeSteps, sizeLabel)
	top := sizes[len(sizes)-1].Value
	// The library takes the range of both axes from the ticks of one: memory is drawn in
	// hundredths of the left axis's top, and only the labels are in GB.
	for i := range sizes {
		sizes[i].Value *= 100 / top
	}
	for i := range p.at {
		p.used[i], p.total[i] = p.used[i]*100/top, p.total[i]*100/top
	}
	ink, blue, red := inks.ink, inks.blue, inks.red
	line := func(c drawing.Color, width float64) chart.Style {
		return chart.Style{StrokeColor: c, StrokeWidth: width}
	}
	area, dashed := line(blue, 2), line(ink, 1.5)
	area.FillColor = blue.WithAlpha(40)
	dashed.StrokeDashArray = []float64{6, 4}
	axis := chart.Style{FontSize: 11, FontColor: ink, StrokeColor: ink}
	c := chart.Chart{
		Title: "Memory while the user worked", TitleStyle: chart.Style{FontSize: 15, FontColor: ink},
		Width: 1280, Height: 640, Background: chart.Style{Padding: chart.Box{Top: 90, Left: 76, Right: 24, Bottom: 24}},
		XAxis: chart.XAxis{Name: "minutes:seconds", NameStyle: axis, Style: axis,
			Ticks: ticks(p.at[len(p.at)-1], timeSteps, clockTime),
			Range: &chart.ContinuousRange{Min: 0, Max: p.at[len(p.at)-1]}},
		// The library draws its primary axis at the right.
		YAxis: chart.YAxis{Name: "% of time", NameStyle: axis, Style: axis,
			Ticks: ticks(100, []float64{20}, func(v any) string { return fmt.Sprintf("%.0f", v) }),
			Range: &chart.ContinuousRange{Min: 0, Max: 100}},
		YAxisSecondary: chart.YAxis{Style: axis, Ticks: sizes, Range: &chart.ContinuousRange{Min: 0, Max: 100}},
		Series: []chart.Series{
			chart.ContinuousSeries{Name: "in use, GB (left)", XValues: p.at, YValues: p.used, Style: area,
				YAxis: chart.YAxisSecondary},
			chart.ContinuousSeries{Name: "in all, GB (left)", XValues: p.at, YValues: p.total, Style: dashed,
				YAxis: chart.YAxisSecondary},
		},
	}
	if len(p.stepsAt) > 0 {
		c.Series = append(c.Series, chart.ContinuousSeries{Name: "waited for memory, % of time (right)", XValues: p.stepsAt,
			YValues: p.waitShare, Style: line(red, 1.5)})
	}
	c.Elements = []chart.Renderable{chart.LegendThin(&c, chart.Style{FontSize: 10, FontColor: ink, StrokeColor: ink})}
	if svg {
		return c.Render(chart.SVG, w)
	}
	return c.Render(chart.PNG, w)
}

// timeSteps lie between ticks that a person reads easily, in seconds.
var timeSteps = []float64{1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14400}

// sizeSteps lie between ticks of memory, in GB.
var sizeSteps = []float64{0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 1024}

// sizeLabel writes a tick of memory without the digits that it does not need: "0.1 GB".
func sizeLabel(v any) string {
	gb, _ := v.(float64)
	return strconv.FormatFloat(math.Round(gb*100)/100, 'f', -1, 64) + " GB"
}

// ticks marks round values up to last, a dozen at most. The library takes an
// axis's range from its ticks, so an unmarked one ends them.
func ticks(last float64, steps []float64, label func(any) string) []chart.Tick {
	step := steps[len(steps)-1]
	for _, s := range steps {
		if last/s <= 12 {
			step = s
			break
		}
	}
	var out []chart.Tick
	for at := 0.0; at <= last && len(out) < 100; at += step {
		out = append(out, chart.Tick{Value: at, Label: label(at)})
	}
	if out[len(out)-1].Value < last {
		out = append(out, chart.Tick{Value: last})
	}
	return out
}

// NeededJSON returns the value that need --format json writes.
func NeededJSON(a need.Answer, s maybe.Value[need.Summary]) any {
	type part struct {
		What string         `json:"what"`
		Size jedec.Capacity `json:"capacity_mib"`
		Why  string         `json:"why"`
	}
	parts := []part{}
	for _, x := range a.Parts {
		parts = append(parts, part(x))
	}
	known := func(c jedec.Capacity) maybe.Value[jedec.Capacity] { return maybe.If(c, c > 0) }
	var measured any
	if m, ok := s.Get(); ok {
		measured = map[string]any{
			"verdict": m.Verdict, "why": append([]string{}, m.Why...), "lacks": append([]string{}, m.Lacks...),
			"samples": m.Samples, "used_s": m.Used.Seconds(),
			"total_mib": m.Total, "peak_mib": m.Peak, "lowest_available_mib": m.Lowest, "swapped_mib": m.Swapped,
			"stall_percent": m.Stall, "burst_percent": m.Bursts,
			"swapin_pages_per_second": m.SwapInRate, "swapin_percent": m.SwapInShare, "disk_stall_percent": m.DiskStall,
			"cpu_stall_percent": m.CPUStall, "cpu_busy_percent": m.CPUBusy,
		}
	}
	return map[string]any{
		"schema": "epitome.need.v1", "recommended_mib": a.Recommended, "helps": a.Helps, "estimate_mib": known(a.Estimate),
		"measured_need_mib":  known(a.Measured),
		"stated_minimum_mib": a.Floor, "ends_at_mib": a.Ends, "parts": parts, "measured": measured,
		"reasons": append([]string{}, a.Reasons...), "warnings": append([]string{}, a.Warnings...), "customer": a.Customer,
	}
}
