package view

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/trial"
)

// Trial lays out what comes of sticks in a machine: the verdict first, then
// the map, the operating point now and then, and the reasons.
func (p *Page) Trial(m machine.Machine, t trial.Trial) {
	p.Headline(trialSentence(t) + insteadWords(m, t))
	p.Blank()
	p.SlotMap(trialSites(m, t))
	p.Blank()
	p.pointTable(t.Before, t.Operating, t.Was, t.Total)
	if x, ok := t.WithProfile.Get(); ok {
		p.Blank()
		p.Para(2, "", fmt.Sprintf("With the modules' profile selected: %s, access time %v, %s.", pointWords(x), x.Latency,
			bandwidth(x.Bandwidth)))
	}
	if says := gain(t); says != "" {
		p.Blank()
		p.Para(2, "", says)
	}
	if t.Cut {
		p.Blank()
		p.Para(2, "", "Not every arrangement of the modules was compared: a better one may exist.")
	}
	p.reasons(t.Reasons)
}

// Pays answers whether a module pays that is rated above what it runs at here.
func (p *Page) Pays(pays maybe.Value[trial.Faster]) {
	f, ok := pays.Get()
	if !ok {
		return
	}
	p.Blank()
	p.Heading("Does the faster module pay?")
	by := "its grade"
	if f.Profile {
		by = "its profile"
	}
	say := func(says string) { p.Para(4, "  - ", says) }
	say(fmt.Sprintf("%s: rated %v by %s, runs %s here.", f.Stick, f.Rated, by, pointWords(f.Runs)))
	if f.Profile {
		switch x, ok := f.With.Get(); {
		case ok && f.Not != "":
			say(fmt.Sprintf("With the profile: %s, if it can be selected: %s.", fasterWords(f.Runs, x), f.Not))
		case ok && f.Likely:
			say(fmt.Sprintf("With the profile selected in the firmware setup: %s. Likely: %s.", fasterWords(f.Runs, x), f.May))
		case ok:
			say(fmt.Sprintf("With the profile selected in the firmware setup: %s. %s.", fasterWords(f.Runs, x),
				sentence(cmp.Or(f.May, "nobody states whether this board can"))))
		default:
			say(fmt.Sprintf("The profile can't be used here: %s.", f.Not))
		}
	}
	same := "does the same"
	if f.Slows {
		same = "runs faster here"
	}
	if _, ok := f.With.Get(); ok {
		same += ", without a profile"
	}
	say(fmt.Sprintf("A plain %v %s.", f.Plain, same))
}

// fasterWords says how much faster one point is than another.
func fasterWords(slow, fast trial.Point) string {
	says := fmt.Sprintf("%v", fast.Grade.Rate)
	if slow.Bandwidth > 0 && fast.Bandwidth > slow.Bandwidth {
		says += fmt.Sprintf(", %d %% more bandwidth", (fast.Bandwidth-slow.Bandwidth)*100/slow.Bandwidth)
	}
	if fast.TimesKnown && slow.TimesKnown {
		says += fmt.Sprintf(", access time %v instead of %v", fast.Latency, slow.Latency)
	}
	return says
}

var trialVerdicts = map[rule.Verdict]string{
	rule.Works: "Works", rule.RunsLess: "Works, with a penalty", rule.Leans: "Likely works",
	rule.CannotTell: "Can't be told yet", rule.LeansNo: "Likely does not work", rule.No: "Does not work",
}

// trialSentence is the conclusion: the verdict, and what decides it.
func trialSentence(t trial.Trial) string {
	s := trialVerdicts[t.Verdict]
	if p, ok := t.Operating.Get(); ok && t.Verdict <= rule.Leans {
		return s + ": " + t.Total.String() + " " + pointWords(p) + "."
	}
	if rule.Outcome(t.Verdict).Runs() {
		return s + ": " + t.Total.String() + " in all; at which rate can't be told."
	}
	for _, r := range t.Reasons {
		if rule.Verdict(r.Outcome) == t.Verdict {
			return s + ": " + strings.TrimSuffix(r.Says, ".") + "."
		}
	}
	return s + "."
}

// insteadWords says what came out for the sticks where no socket was free.
func insteadWords(m machine.Machine, t trial.Trial) string {
	var out []string
	for _, place := range t.Instead {
		what := place
		if p := m.PlaceCalled(place); p != nil && p.Module != nil {
			what = trial.Describe(*p.Module) + " in " + place
		}
		out = append(out, what)
	}
	fresh := 0
	for _, s := range t.Seats {
		fresh += map[bool]int{true: 1}[s.New]
	}
	switch {
	case len(out) == 0:
		return ""
	case len(out) == fresh:
		return " No socket is free: tried in place of the " + strings.Join(out, " and the ") + "."
	}
	return " Too few sockets are free: tried in place of the " + strings.Join(out, " and the ") + "."
}

// pointWords says how memory runs in a few words.
func pointWords(p trial.Point) string {
	words := fmt.Sprintf("at %v", p.Grade.Rate)
	if p.AtLeast {
		words += " or faster"
	}
	if p.TimesKnown {
		words += fmt.Sprintf(", CL%v", p.Timing.CL)
	}
	if p.Profile != "" {
		words += ", under its profile"
	}
	switch {
	case p.InterleavedMost.Known():
		words += fmt.Sprintf(", %s of it over several channels together", p.Together())
	case p.Interleaved == p.Total && len(p.Layers) > 0:
		words += fmt.Sprintf(", over %s", count(p.Layers[0].Channels, "channel"))
	case p.Interleaved > 0:
		words += fmt.Sprintf(", %v of it over all channels together", p.Interleaved)
	case len(p.Layers) > 0:
		words += ", over one channel"
	}
	return words
}

func trialSites(m machine.Machine, t trial.Trial) []Site { return trialPlaces(m.Places, t) }

func trialPlaces(places []machine.Place, t trial.Trial) []Site {
	out := make([]Site, len(places))
	for i, pl := range places {
		s := Site{Channel: pl.Channel.Or(""), Name: pl.Name, Form: FreeSocket, Holds: "free"}
		if a := pl.Attach.Or(""); a != machine.Socket {
			s.Form, s.Holds = UnclearPlace, "not known"
		}
		for _, seat := range t.Seats {
			if seat.Place != pl.Name {
				continue
			}
			s.Form, s.Holds = FilledSocket, "?"
			if size, ok := seat.Stick.Capacity.Get(); ok {
				s.Holds = size.String()
			}
			switch {
			case seat.Soldered:
				s.Form = SolderedBank
			case seat.New:
				s.Holds = "new " + s.Holds
			}
		}
		out[i] = s
	}
	return out
}

// pointTable sets the operating point now beside the one to come.
func (p *Page) pointTable(before, after maybe.Value[trial.Point], was, total jedec.Capacity) {
	type line struct {
		title string
		of    func(trial.Point) string
		by    string
	}
	capacity := func(size jedec.Capacity) string { return size.String() }
	rows := [][]string{{"Capacity", capacity(was), capacity(total), ""}}
	for _, l := range []line{
		{"Rate", func(x trial.Point) string { return x.Grade.Rate.String() }, "rate_mts"},
		{"Timings", timingWords, "cl"},
		{"Access time", func(x trial.Point) string {
			if !x.TimesKnown {
				return "?"
			}
			return x.Latency.String()
		}, ""},
		{"Supply", func(x trial.Point) string {
			mv, ok := x.MilliVolts.Get()
			if !ok {
				return "?"
			}
			return jedec.Volts(mv)
		}, ""},
		{"All channels", trial.Point.Together, ""},
		{"Bandwidth", func(x trial.Point) string { return bandwidth(x.Bandwidth) }, ""},
	} {
		row := []string{l.title, "?", "?", ""}
		if x, ok := before.Get(); ok {
			row[1] = l.of(x)
		}
		if x, ok := after.Get(); ok {
			row[2], row[3] = l.of(x), x.By(l.by)
		}
		rows = append(rows, row)
	}
	p.Table([]Column{{"", Left, 0}, {"Now", Right, 0}, {"Then", Right, 0}, {"Set by", Left, Rest}}, rows)
}

// timingWords writes CL-tRCD-tRP and, where known, tRAS.
func timingWords(x trial.Point) string {
	if !x.TimesKnown {
		return "?"
	}
	words := "CL" + x.Timing.CL.String()
	if x.TRCDKnown {
		words = x.Timing.String()
	}
	if tras, ok := x.TRAS.Get(); ok && x.TRCDKnown {
		words += fmt.Sprintf("-%d", tras)
	}
	return words
}

func bandwidth(mbs int) string { return fmt.Sprintf("%.1f GB/s", float64(mbs)/1000) }

// gain says what the change is good for.
func gain(t trial.Trial) string {
	parts := t.Gains()
	if len(parts) == 0 {
		return ""
	}
	return "Gain: " + strings.Join(parts, ", ") + "."
}

// reasons lists what stands in the way, what is missing, what costs something,
// and in one line what is fine.
func (p *Page) reasons(reasons []rule.Reason) {
	sorted := slices.Clone(reasons)
	slices.SortStableFunc(sorted, func(a, b rule.Reason) int { return cmp.Compare(b.Outcome, a.Outcome) })
	headings := map[rule.Outcome]string{rule.Refused: "Stands in the way",
		rule.Unlikely: "Likely stands in the way", rule.Unproven: "Not proved",
		rule.Likely: "Likely, not settled", rule.Reduced: "Penalty"}
	last := rule.OK
	var fine, notes, settle []string
	for _, r := range sorted {
		if r.Outcome == rule.OK {
			if r.Says == "" {
				continue // it does not come up
			}
			if r.Rule == "faster-part" || r.Rule == "odd-size" || r.Rule == "profile" || r.Rule == "unlike" {
				notes = append(notes, r.Says)
			} else if !slices.Contains(fine, r.Rule) {
				fine = append(fine, r.Rule)
			}
			continue
		}
		if r.Outcome != last {
			p.Blank()
			p.Heading(headings[r.Outcome])
			last = r.Outcome
		}
		p.Para(4, "  - ", r.Rule+": "+r.Says+".")
		for _, look := range r.Looks() {
			if !slices.Contains(settle, look) {
				settle = append(settle, look)
			}
		}
	}
	if len(settle) > 0 {
		p.Blank()
		p.Heading("What would settle it")
		p.list(settle)
	}
	if len(notes) > 0 {
		p.Blank()
		for _, n := range notes {
			p.Para(6, "Note: ", sentence(n)+".")
		}
	}
	if len(fine) > 0 {
		p.Blank()
		p.Para(6, "Fine: ", strings.Join(fine, ", ")+".")
	}
}

// Mixed lays out what comes of sticks side by side.
func (p *Page) Mixed(sticks []module.Module, m trial.Mixed) {
	p.Headline(mixedSentence(sticks, m))
	if x, ok := m.Operating.Get(); ok && !rule.Outcome(m.Verdict).Against() {
		rows := [][]string{{"Rate", x.Grade.Rate.String(), x.By("rate_mts")}, {"Timings", timingWords(x), x.By("cl")}}
		if x.TimesKnown {
			rows = append(rows, []string{"Access time", x.Latency.String(), ""})
		}
		if mv, ok := x.MilliVolts.Get(); ok {
			rows = append(rows, []string{"Supply", jedec.Volts(mv), ""})
		}
		p.Blank()
		p.Table([]Column{{"", Left, 0}, {"Together", Right, 0}, {"Set by", Left, Rest}}, rows)
	}
	if len(m.Groups) > 1 || len(m.Unsorted) > 0 {
		p.groups(sticks, m)
	}
	p.reasons(m.Reasons)
	if slices.ContainsFunc(sticks, func(s module.Module) bool { return s.Clocked.Or(false) }) {
		p.Blank()
		p.Para(0, "", "A module with a clock driver goes only in boards that support one: their manual says it. Beside one "+
			"without, it runs as that does.")
	}
}

func mixedSentence(sticks []module.Module, m trial.Mixed) string {
	who := fmt.Sprintf("These %s", count(len(sticks), "stick"))
	if len(sticks) == 1 {
		who = "This stick"
	}
	x, ok := m.Operating.Get()
	switch {
	case rule.Outcome(m.Verdict).Against() && len(m.Groups) > 1:
		return fmt.Sprintf("%s do not belong together; they make %s.", who, count(len(m.Groups), "set"))
	case rule.Outcome(m.Verdict).Against():
		return who + " do not belong together."
	case m.Verdict == rule.CannotTell:
		return "Can't be told yet: a fact is missing."
	case ok && m.Verdict == rule.RunsLess:
		return fmt.Sprintf("%s run together %s, with a penalty.", who, pointWords(x))
	case ok:
		return fmt.Sprintf("%s run together %s.", who, pointWords(x))
	}
	return who + " belong together."
}

func (p *Page) groups(sticks []module.Module, m trial.Mixed) {
	p.Blank()
	p.Heading("Sets that belong together")
	var rows [][]string
	for _, g := range m.Groups {
		var sizes []jedec.Capacity
		for _, i := range g.Sticks {
			sizes = append(sizes, sticks[i].Capacity.Or(0))
		}
		runs := "?"
		if x, ok := g.Operating.Get(); ok {
			runs = fmt.Sprint(int(x.Grade.Rate))
			if x.TimesKnown {
				runs += fmt.Sprintf(" CL%v", x.Timing.CL)
			}
		}
		rows = append(rows, []string{"  " + g.Names, fmt.Sprint(len(g.Sticks)), g.Total.String(), runs, sizeList(sizes)})
	}
	p.Table([]Column{{"  Set", Left, 0}, {"Sticks", Right, 0}, {"Total", Right, 0}, {"Runs at", Left, 0},
		{"Sizes", Left, Rest}}, rows)
	if len(m.Unsorted) > 0 {
		p.Para(4, "  ", fmt.Sprintf("%s can't be sorted, generation, form or kind is not stated: %s.",
			count(len(m.Unsorted), "stick"), first(m.Unsorted, sticks)))
	}
}

// sizeList writes sizes in short, "2 × 8 GB, 4 GB".
func sizeList(sizes []jedec.Capacity) string {
	slices.Sort(sizes)
	slices.Reverse(sizes)
	return strings.Join(jedec.Tally(sizes), ", ")
}

// first quotes up to three sticks.
func first(which []int, sticks []module.Module) string {
	var names []string
	for _, i := range which[:min(3, len(which))] {
		names = append(names, fmt.Sprintf("%q", sticks[i].From))
	}
	if len(which) > 3 {
		names = append(names, "and more")
	}
	return strings.Join(names, ", ")
}

// Rules lays out every rule of a trial, and what tells open facts.
func (p *Page) Rules(rules []trial.Rule, inferences []trial.Inference) {
	p.Headline(fmt.Sprintf("%d rules, each asked in every way that the evidence leaves open, and %d inferences that "+
		"narrow what is open.", len(rules), len(inferences)))
	for _, r := range rules {
		p.Blank()
		p.Heading(r.ID)
		p.Para(2, "", r.Says)
		p.Para(10, "  needs", strings.Join(r.Needs, "; "))
		p.Para(10, "  source", r.Source)
	}
	for _, x := range inferences {
		p.Blank()
		p.Heading("inference: " + x.ID)
		p.Para(2, "", x.Says)
		p.Para(10, "  source", x.Source)
	}
}
