package ceiling

import (
	"cmp"
	"slices"

	"epitome/core/fact"
)

// A Level is an upper bound in one world. It is comparable.
type Level struct {
	Most   Amount
	None   bool // nothing limits it
	Says   string
	Source Source
	Words  string // the amount in words where it is not just that
	by     int    // its ceiling's place in the row, from 1; 0 for none
}

// String writes the level: "8 Gbit", "no limit".
func (v Level) String() string {
	switch {
	case v.None:
		return "no limit"
	case v.Words != "":
		return v.Words
	}
	return v.Most.String()
}

// compare orders levels, the smaller first.
func (v Level) compare(o Level) int {
	if v.None || o.None {
		return cmp.Compare(map[bool]int{true: 1}[v.None], map[bool]int{true: 1}[o.None])
	}
	return v.Most.Compare(o.Most)
}

// A Floor is what a machine takes whatever a row of bounds says: shown by what runs there, and inferred where the row
// says nothing.
type Floor struct {
	Shown, Inferred Amount
}

// Possible is what a row of upper bounds leaves possible.
type Possible struct {
	Levels []Level // the leading one first
	Leads  bool    // the evidence leans to the first one
	Runs   bool    // that is what runs on machines like it, though less is published
	Infers string  // the inference that the first one rests on, where nobody states a limit
}

// A heard row is one of upper bounds, sorted by what each of them says.
type heard struct {
	top          Level   // of the standard
	common       Level   // what commonly runs
	controllers  []Level // published by the controller's maker
	firm, soft   []Level
	answered     bool   // by somebody other than the firmware
	open         string // why nothing is known
	contradicted string // a limit that what is fitted breaks
	least        Amount
	infers       string // the inference that least rests on
}

// Levels is what a row of upper bounds comes to: a stated figure is never beaten by an inference, what is firm not by
// what is soft. It is what the marks of the row are made of, and what a trial asks. proved is what the machine takes
// whatever the row says.
func Levels(row []Ceiling, proved Floor) Possible {
	h := hear(row, proved)
	p := h.stated(proved)
	if lead, further := h.further(p.Levels[0]); further {
		rest := slices.DeleteFunc(p.Levels, func(v Level) bool {
			// Where the controller's maker states a limit, what runs beyond it is as far as anybody goes.
			return v.compare(lead) == 0 || len(h.controllers) > 0 && v.compare(lead) > 0
		})
		p.Levels, p.Leads, p.Runs, p.Infers = append([]Level{lead}, rest...), true, true, ""
	}
	return p
}

// nobody is why nothing is known where no source could say.
const nobody = "nobody states a limit"

// hear sorts a row of upper bounds.
func hear(row []Ceiling, proved Floor) heard {
	h := heard{top: Level{None: true}, common: Level{None: true}, open: nobody, least: proved.Shown, infers: "witness"}
	if proved.Inferred.Exceeds(h.least) {
		h.least, h.infers = proved.Inferred, "population"
	}
	byHand := false // a manual's figure is firm for the board, and firmware's gives way to it
	for _, c := range row {
		byHand = byHand || c.Source == Technician && c.Standing == fact.Settled && c.Most.Known()
	}
	for i, c := range row {
		n, stated := c.Most.Get()
		v := Level{Most: n, Says: c.Says, Source: c.Source, by: i + 1}
		if proved.Shown.Exceeds(n) {
			v.Most = proved.Shown
		}
		if stated && c.Holds() && (c.Source == Processor || c.Source == Chipset) {
			h.controllers = append(h.controllers, v)
		}
		switch {
		case c.Allows():
			if h.common.None || v.compare(h.common) > 0 {
				h.common = v
			}
		case c.Source == Standard && stated:
			h.top = Level{Most: n, Says: c.Says, Source: c.Source, by: i + 1}
		case !stated || !c.Holds():
			h.silent(c)
		case c.Standing == fact.Settled:
			h.answered = h.answered || c.Source != Firmware
			h.firm = append(h.firm, v)
		case c.Source == Firmware && byHand:
		default:
			h.answered = h.answered || c.Source != Firmware
			h.soft = append(h.soft, v)
		}
	}
	return h
}

// silent takes what a ceiling says that states no limit: why, what it breaks, or what is allowed for certain.
func (h *heard) silent(c Ceiling) {
	if c.Source != Board && c.Source != Firmware && c.Source != Technician && c.Source != System && h.open == nobody {
		h.open = c.Says
	}
	if c.Standing == fact.Disputed && c.Most.Known() && c.Source != Firmware {
		h.contradicted = c.Says
	}
	if n, ok := c.Least.Get(); ok && n.Exceeds(h.least) {
		h.least, h.infers = n, "candidates"
	}
}

// stated is what those who state limits leave possible, the leading level first.
func (h heard) stated(proved Floor) (p Possible) {
	top := h.top
	if len(h.firm) > 0 {
		top = slices.MinFunc(append(h.firm, top), Level.compare)
	}
	soft := slices.DeleteFunc(slices.Clone(h.soft), func(v Level) bool { return v.compare(top) >= 0 })
	slices.SortStableFunc(soft, Level.compare)
	switch {
	case h.contradicted != "":
		// A limit that what is fitted breaks: the true one lies above, and is not known.
		fitted := Level{Most: proved.Shown, Says: h.contradicted + ", so the true limit is not known",
			Words: "no more than is fitted"}
		p.Levels = append(append([]Level{fitted}, soft...), top)
	case len(h.firm) > 0 && len(soft) == 0:
		p.Levels = []Level{top}
	case len(h.firm) > 0:
		// A softer, smaller figure beside a firm one binds nothing, and is said.
		p.Levels, p.Leads = append([]Level{top}, soft...), true
	case len(h.soft) > 0 && len(soft) == 0:
		// What is stated is no less than the standard's own; who states as much is marked for it.
		if i := slices.IndexFunc(h.soft, func(v Level) bool { return v.compare(top) == 0 }); i >= 0 {
			top.by = h.soft[i].by
		}
		p.Levels = []Level{top}
	case len(soft) > 0:
		// Firmware alone states what was tested, and more runs than not; any two that agree are a limit.
		p.Levels, p.Leads = append(slices.Clone(soft), top), h.answered || len(soft) > 1 && soft[0].compare(soft[1]) == 0
		if h.answered && soft[0].Source == Firmware && len(soft) > 1 {
			p.Levels = append(slices.Clone(soft[1:]), soft[0], top) // firmware knew less when it was written
		}
	default:
		atLeast := Level{Most: h.least, Says: h.open, Words: "at least " + h.least.String()}
		p.Levels, p.Infers = []Level{atLeast, top}, h.infers
	}
	return p
}

// further is what commonly runs, as far as everybody but the controller's maker allows it: it leads where
// that is more than what otherwise would. What ran and is less limits nothing.
func (h heard) further(leading Level) (Level, bool) {
	if h.common.None || h.contradicted != "" {
		return Level{}, false
	}
	others := slices.DeleteFunc(slices.Clone(h.firm), func(v Level) bool { return slices.Contains(h.controllers, v) })
	lead := slices.MinFunc(append(others, h.top, h.common), Level.compare)
	return lead, lead.compare(leading) > 0
}

// bind marks the ceiling that binds a row: of upper bounds the one that leads among those that are stated, of lists the
// shortest of the firmest. Smaller ceilings that are softer are marked as such.
func bind(row []Ceiling) []Ceiling {
	best := -1
	if slices.ContainsFunc(row, func(c Ceiling) bool { return c.Most.Known() }) {
		for _, v := range hear(row, Floor{}).stated(Floor{}).Levels {
			if v.by > 0 {
				best = v.by - 1
				break
			}
		}
	} else {
		for i, c := range row {
			if c.Holds() && !c.Allows() && c.Source != Standard && (best < 0 || shorter(c, row[best])) {
				best = i
			}
		}
		if best < 0 {
			best = slices.IndexFunc(row, func(c Ceiling) bool { return c.Holds() && c.Source == Standard })
		}
	}
	if best < 0 {
		return row
	}
	row[best].Binding = true
	for i := range row {
		c := &row[i]
		size, ok1 := c.Most.Get()
		firm, ok2 := row[best].Most.Get()
		if i != best && ok1 && ok2 && c.Holds() && !c.Allows() && firm.Exceeds(size) {
			c.Softer, c.Cost = true, softly(c.What)
		}
	}
	return row
}

// shorter reports whether a list binds rather than another: the firmer one, then the shorter.
func shorter(a, b Ceiling) bool {
	if a.Standing != b.Standing {
		return a.Standing > b.Standing
	}
	return len(a.Allowed.Or(Set{}).Words) < len(b.Allowed.Or(Set{}).Words)
}

// softly says what a softer ceiling costs to trust or to ignore.
func softly(w What) string {
	switch w {
	case Rate:
		return "not firm: to trust it costs speed, to ignore it risks modules that run slower than they were bought for"
	case OSCapacity:
		return "not firm: to ignore it risks memory that the system does not use"
	}
	return "not firm, makers often state what they tested: to trust it leaves room unused, to ignore it risks memory " +
		"that does not start"
}

// A Bound is the ceiling that binds a row: the one answer that the first
// line, the marked cell, --for, trial and propose give.
type Bound struct {
	By     Ceiling   // the ceiling that binds
	Most   Amount    // its figure
	Softer []Ceiling // smaller ones that are not firm enough to bind
}

// BoundOf returns the bound of a row; ok is false where nobody states one.
func BoundOf(row []Ceiling) (b Bound, ok bool) {
	for _, c := range row {
		most, stated := c.Most.Get()
		switch {
		case stated && c.Binding:
			b.By, b.Most, ok = c, most, true
		case stated && c.Softer:
			b.Softer = append(b.Softer, c)
		}
	}
	return b, ok
}

// Bound returns the bound on one thing.
func (l Limits) Bound(what What) (Bound, bool) { return BoundOf(l.On(what)) }
