package view

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"epitome/core/bench"
	"epitome/core/jedec"
	"epitome/core/records"

	"github.com/wcharczuk/go-chart/v2"
)

// Proof lays out what was measured and proved.
func (p *Page) Proof(r bench.Proof) {
	p.Headline(proofSentence(r))
	p.Blank()
	p.Table([]Column{{"", Left, 0}, {"All threads", Right, 0}, {"One thread", Right, 0}, {"Apart", Right, 0}}, [][]string{
		{"Read", mbs(r.Read.Median), mbs(r.ReadOne.Median), apart(r.Read.Spread)},
		{"Write", mbs(r.Write.Median), mbs(r.WriteOne.Median), apart(r.Write.Spread)},
		{"Copy", mbs(r.Copy.Median), mbs(r.CopyOne.Median), apart(r.Copy.Spread)},
		{"Access time", "", nanoseconds(r.Latency.Median), apart(r.Latency.Spread)},
	})
	p.Blank()
	for _, f := range r.Faults {
		again := "it held when it was tried once more"
		if f.Again {
			again = "and again when it was tried once more"
		}
		p.Para(4, "  - ", fmt.Sprintf("at %s, %s: wrote %s, read %s, %s wrong; %s", offset(f.Offset), f.Pattern,
			bench.Hex(f.Wrote), bench.Hex(f.Read),
			count(f.Bits(), "bit"), again))
	}
	if r.MoreFaults > 0 {
		p.Para(4, "  - ", fmt.Sprintf("and %s more", figure(uint64(r.MoreFaults))))
	}
	if len(r.Faults) > 0 {
		p.Blank()
		p.Para(2, "", "A place is one within what was proved; which module it is on the system does not tell. Take the "+
			"modules out but one, and prove each.")
		p.Blank()
	}
	for _, says := range proofNotes(r) {
		p.Para(4, "  - ", says)
	}
	p.Blank()
	p.Foot(fmt.Sprintf("%s; seed %d; medians, apart: the middle half of what was measured", count(r.Threads, "thread"),
		r.Seed))
}

func proofSentence(r bench.Proof) string {
	covered := jedec.Capacity(r.Covered)
	share := 0.0
	if r.Of > 0 {
		share = 100 * float64(r.Covered) / float64(r.Of)
	}
	switch {
	case len(r.Faults) > 0:
		return fmt.Sprintf("Faults: %s did not read back as written, in %s of memory.",
			count(len(r.Faults)+r.MoreFaults, "word"), gigabytes(covered))
	case !r.Sound():
		return "Nothing is proved: it was stopped before one pass was whole."
	}
	return fmt.Sprintf("Sound: %s of memory, %.0f %% of what the system has, read back as written in %s.",
		gigabytes(covered), share, passes(r.Passes))
}

// Faster says how much faster the machine is than before, against the prediction.
func (p *Page) Faster(s bench.Speed, why string) {
	p.Blank()
	switch {
	case why != "":
		p.Para(11, "  Measured", sentence(why)+".")
		return
	case !s.Noticed() && s.Predicted > 1+s.Off:
		p.Para(11, "  Measured", fmt.Sprintf("no faster (%.2f, within %.2f); %.2f times were predicted at most: the "+
			"modules may sit on one channel.", s.Ratio, s.Off, s.Predicted))
		return
	case !s.Noticed():
		p.Para(11, "  Measured", fmt.Sprintf("as fast as before (%.2f, within %.2f).", s.Ratio, s.Off))
		return
	}
	says := fmt.Sprintf("%.2f times as fast as before (within %.2f)", s.Ratio, s.Off)
	if s.Ratio < 1 {
		says = "slower: " + says
	}
	if s.Predicted > 0 {
		says += fmt.Sprintf("; %.2f were predicted at most", s.Predicted)
	}
	p.Para(11, "  Measured", says+".")
}

func passes(n int) string {
	if n == 1 {
		return "one pass"
	}
	return fmt.Sprintf("%d passes", n)
}

// proofNotes says what is to be known of the figures.
func proofNotes(r bench.Proof) (notes []string) {
	notes = append(notes, "What firmware and the system keep for themselves was not reached.")
	if r.Busy {
		notes = append(notes, "Others were at work: the figures are too low, and can't be compared.")
	} else if !r.Steady() {
		notes = append(notes, "The figures lie far apart: something else was at work, and they can't be compared.")
	}
	if !r.LargePages {
		notes = append(notes, "The system gave no large pages: looking pages up is part of the access time.")
	}
	if r.Pressed {
		notes = append(notes, "The system ran short, and part of the memory was given back.")
	}
	return notes
}

func gigabytes(c jedec.Capacity) string {
	if c < jedec.GiB {
		return fmt.Sprintf("%d MB", c/jedec.MiB)
	}
	return fmt.Sprintf("%.1f GB", float64(c)/float64(jedec.GiB))
}

func mbs(v float64) string {
	if v == 0 {
		return "?" // stopped before it was measured
	}
	return fmt.Sprintf("%.1f GB/s", v/1000)
}

func nanoseconds(v float64) string {
	if v == 0 {
		return "?"
	}
	return fmt.Sprintf("%.0f ns", v)
}

func apart(share float64) string { return fmt.Sprintf("%.0f %%", share*100) }

// offset writes a place as people read addresses.
func offset(bytes uint64) string { return fmt.Sprintf("0x%09X", bytes) }

// ProofJSON returns the value that prove --format json writes.
func ProofJSON(r bench.Proof) any {
	faults := []any{}
	for _, f := range r.Faults {
		faults = append(faults, map[string]any{"address": offset(f.Offset), "wrote": bench.Hex(f.Wrote),
			"read": bench.Hex(f.Read), "pattern": f.Pattern, "again": f.Again})
	}
	return map[string]any{"schema": "epitome.prove.v1", "covered_mib": r.Covered >> 20, "of_mib": r.Of >> 20,
		"passes": r.Passes, "seed": r.Seed,
		"faults": faults, "more_faults": r.MoreFaults, "busy": r.Busy, "steady": r.Steady(), "large_pages": r.LargePages,
		"bandwidth_mbs": map[string]any{"read": r.Read.Median, "write": r.Write.Median, "copy": r.Copy.Median,
			"spread": r.Spread(), "threads": r.Threads},
		"one_thread_mbs": map[string]any{"read": r.ReadOne.Median, "write": r.WriteOne.Median, "copy": r.CopyOne.Median},
		"latency_ns":     r.Latency.Median}
}

// mostProofs is how many proofs are drawn side by side: the first, and the latest.
const mostProofs = 5

// ProofChart draws bandwidths of proofs side by side: read, write and copy of each. svg
// chooses between SVG and PNG.
func ProofChart(w io.Writer, proofs []records.Proof, svg bool) error {
	if len(proofs) == 0 {
		return errors.New("the card holds no proof to draw")
	}
	if len(proofs) > mostProofs {
		proofs = append([]records.Proof{proofs[0]}, proofs[len(proofs)-mostProofs+1:]...)
	}
	var bars []chart.Value
	most := 0.0
	for i, p := range proofs {
		for _, x := range []struct {
			name string
			mbs  float64
		}{{"read", p.Read}, {"write", p.Write}, {"copy", p.Copy}} {
			gbs := x.mbs / 1000
			if gbs == 0 {
				continue // it was stopped before this was measured
			}
			most = max(most, gbs)
			colour := inks.blue
			if i == len(proofs)-1 && i > 0 {
				colour = inks.red // the latest
			}
			label := x.name
			if x.name == "write" && p.Date != "" {
				label += " " + p.Date
			}
			bars = append(bars, chart.Value{Label: label, Value: gbs,
				Style: chart.Style{FillColor: colour.WithAlpha(150), StrokeColor: colour, StrokeWidth: 1}})
		}
	}
	if len(bars) == 0 {
		return errors.New("the card's proofs were stopped before anything was measured: there is nothing to draw")
	}
	marks := ticks(most*1.1, sizeSteps, func(v any) string { return strings.TrimSuffix(sizeLabel(v), " GB") + " GB/s" })
	axis := chart.Style{FontSize: 11, FontColor: inks.ink, StrokeColor: inks.ink}
	c := chart.BarChart{
		Title: "Memory bandwidth, all threads", TitleStyle: chart.Style{FontSize: 15, FontColor: inks.ink},
		Width: 1280, Height: 640, Background: chart.Style{Padding: chart.Box{Top: 60, Left: 24, Right: 24, Bottom: 24}},
		BarWidth: max(24, 780/len(bars)), XAxis: axis,
		YAxis: chart.YAxis{Style: axis, Ticks: marks, Range: &chart.ContinuousRange{Min: 0, Max: marks[len(marks)-1].Value}},
		Bars:  bars,
	}
	if svg {
		return c.Render(chart.SVG, w)
	}
	return c.Render(chart.PNG, w)
}
