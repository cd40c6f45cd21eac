package trial

import (
	"cmp"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/rule"
)

// Facts of the machine.

// A bound is an upper bound in one world.
type bound struct {
	most         ceiling.Amount
	none         bool // nothing limits it
	says, source string
	words        string // the amount in words where it is not just that
}

func (b bound) String() string {
	switch {
	case b.none:
		return "no limit"
	case b.words != "":
		return b.words
	}
	return b.most.String()
}

// compare orders bounds, the smaller first.
func (b bound) compare(c bound) int {
	if b.none || c.none {
		return cmp.Compare(map[bool]int{true: 1}[b.none], map[bool]int{true: 1}[c.none])
	}
	return b.most.Compare(c.most)
}

// A floor is what a machine takes whatever a row of bounds says: shown by what
// runs there, and inferred where the row says nothing.
type floor struct {
	shown, inferred ceiling.Amount
}

// A hearing is a row of upper bounds, sorted by what each of them says.
type hearing struct {
	top          bound   // of the standard
	common       bound   // what commonly runs
	controllers  []bound // published by the controller's maker
	firm, soft   []bound
	answered     bool   // by somebody other than the firmware
	open         string // why nothing is known
	contradicted string // a limit that what is fitted breaks
	least        ceiling.Amount
	infers       string // the inference that least rests on
}

// hear sorts a row of upper bounds. proved is what the machine takes whatever the row says.
func hear(row []ceiling.Ceiling, proved floor) hearing {
	const nobody = "nobody states a limit"
	h := hearing{top: bound{none: true}, common: bound{none: true}, open: nobody, least: proved.shown, infers: "witness"}
	if proved.inferred.Exceeds(h.least) {
		h.least, h.infers = proved.inferred, "population"
	}
	byHand := false // a manual's figure is firm for the board, and firmware's gives way to it
	for _, c := range row {
		byHand = byHand || c.Source == ceiling.Technician && c.Standing == fact.Settled && c.Most.Known()
	}
	for _, c := range row {
		n, stated := c.Most.Get()
		b := bound{most: n, says: c.Says, source: string(c.Source)}
		if proved.shown.Exceeds(n) {
			b.most = proved.shown
		}
		if stated && c.Holds() && (c.Source == ceiling.Processor || c.Source == ceiling.Chipset) {
			h.controllers = append(h.controllers, b)
		}
		switch {
		case c.Allows():
			if h.common.none || b.compare(h.common) > 0 {
				h.common = b
			}
		case c.Source == ceiling.Standard && stated:
			h.top = bound{most: n, says: c.Says, source: string(c.Source)}
		case !stated || !c.Holds():
			if c.Source != ceiling.Board && c.Source != ceiling.Firmware && c.Source != ceiling.Technician &&
				c.Source != ceiling.System && h.open == nobody {
				h.open = c.Says
			}
			if c.Standing == fact.Disputed && stated && c.Source != ceiling.Firmware {
				h.contradicted = c.Says
			}
			if n, ok := c.Least.Get(); ok && n.Exceeds(h.least) {
				h.least, h.infers = n, "candidates"
			}
		case c.Standing == fact.Settled:
			h.answered = h.answered || c.Source != ceiling.Firmware
			h.firm = append(h.firm, b)
		case c.Source == ceiling.Firmware && byHand:
		default:
			h.answered = h.answered || c.Source != ceiling.Firmware
			h.soft = append(h.soft, b)
		}
	}
	return h
}

// most is what a row of upper bounds may come to.
func (t *setting) most(key string, row []ceiling.Ceiling, proved floor, what, look string) rule.Possible[bound] {
	h := hear(row, proved)
	p := h.stated(proved)
	p.Key, p.Fact, p.Look = key, what, look
	if lead, further := h.further(p.Values[0]); further {
		rest := slices.DeleteFunc(p.Values, func(b bound) bool {
			// Where the controller's maker states a limit, what runs beyond it is as far as anybody goes.
			return b.compare(lead) == 0 || len(h.controllers) > 0 && b.compare(lead) > 0
		})
		p.Values, p.Leads, p.Infers = append([]bound{lead}, rest...), true, ""
		p.Look = lead.says + ": fitting it is what tells, so buy where it can go back"
	}
	return p
}

// stated is what those who state limits leave possible, the leading value first.
func (h hearing) stated(proved floor) (p rule.Possible[bound]) {
	top := h.top
	if len(h.firm) > 0 {
		top = slices.MinFunc(append(h.firm, top), bound.compare)
	}
	soft := slices.DeleteFunc(h.soft, func(b bound) bool { return b.compare(top) >= 0 })
	slices.SortStableFunc(soft, bound.compare)
	switch {
	case h.contradicted != "":
		// A limit that what is fitted breaks: the true one lies above, and is not known.
		p.Values = []bound{{most: proved.shown, says: h.contradicted + ", so the true limit is not known",
			words: "no more than is fitted"}, top}
	case len(h.firm) > 0 && len(soft) == 0:
		p.Values = []bound{top}
	case len(h.firm) > 0:
		// A softer, smaller figure beside a firm one binds nothing, and is said.
		p.Values, p.Leads = append([]bound{top}, soft...), true
	case len(h.soft) > 0 && len(soft) == 0:
		p.Values = []bound{top} // what is stated is no less than the standard's own
	case len(soft) > 0:
		// Firmware alone states what was tested, and more runs than not; any two that agree are a limit.
		p.Values, p.Leads = append(slices.Clone(soft), top), h.answered || len(soft) > 1 && soft[0].compare(soft[1]) == 0
		if h.answered && soft[0].source == string(ceiling.Firmware) && len(soft) > 1 {
			p.Values = append(slices.Clone(soft[1:]), soft[0], top) // firmware knew less when it was written
		}
	default:
		atLeast := bound{most: h.least, says: h.open, words: "at least " + h.least.String()}
		p.Values, p.Infers = []bound{atLeast, top}, h.infers
	}
	return p
}

// further is what commonly runs, as far as everybody but the controller's maker allows it: it leads where
// that is more than what otherwise would. What ran and is less limits nothing.
func (h hearing) further(leading bound) (bound, bool) {
	if h.common.none || h.contradicted != "" {
		return bound{}, false
	}
	others := slices.DeleteFunc(slices.Clone(h.firm), func(b bound) bool { return slices.Contains(h.controllers, b) })
	lead := slices.MinFunc(append(others, h.top, h.common), bound.compare)
	return lead, lead.compare(leading) > 0
}

// proved figures.

// shownSize is the largest module that a socket holds for certain.
func (t *setting) shownSize() (most jedec.Capacity) {
	for _, p := range t.m.Places {
		if p.Module != nil && p.Attach.Or("") == machine.Socket {
			most = max(most, p.Module.Capacity.Or(0))
		}
	}
	return most
}

// published is the largest module that a maximum of the whole comes to when all
// sockets are filled alike; 0 where either is not known.
func (t *setting) published() (best jedec.Capacity) {
	sockets, ok := t.m.Totals.Sockets.Get()
	b, limited := t.limits.Bound(ceiling.Capacity)
	if !ok || !limited || sockets == 0 {
		return 0
	}
	soldered := t.m.Totals.Soldered.Or(0)
	for _, size := range jedec.ModuleSizes(t.limits.Generation.Or(0)) {
		if size*jedec.Capacity(sockets)+soldered <= b.Most.Capacity() {
			best = max(best, size)
		}
	}
	return best
}

// provedSize is the largest module that the machine takes.
func (t *setting) provedSize() floor {
	return floor{ceiling.Bytes(t.shownSize()), ceiling.Bytes(t.published())}
}

// provedDie is the densest die that the machine addresses: shown by the
// dies of what runs there, inferred from the ordinary module of the size that its
// maximum comes to. Two ranks of eight x8 chips make a size of the smallest dies
// there can be.
func (t *setting) provedDie() floor {
	g := t.limits.Generation.Or(0)
	of := func(size jedec.Capacity, ranks int) int {
		if mbit := int(size/jedec.MiB) / ranks; slices.Contains(g.Trait().Densities, mbit) {
			return mbit
		}
		return 0
	}
	shown := 0
	for _, seat := range t.fitted {
		if seat.Soldered {
			continue
		}
		st := &seat.Stick
		size := st.Capacity.Or(0)
		shown = max(shown, st.Density.Or(0), of(size, 2))
		if r, known := st.Ranks.Get(); known && r == 1 && st.Width.Or(8) == 8 {
			shown = max(shown, of(size, 1))
		}
	}
	return floor{ceiling.Dies(shown), ceiling.Dies(of(t.published(), 2))}
}

// witnessKind reports whether a module of a kind runs in a socket there.
func (t *setting) witnessKind(kind string, ecc bool) bool {
	for _, seat := range t.fitted {
		if !seat.Soldered && bufferedAs(&seat.Stick) == kind && seat.Stick.ECC.Or(false) == ecc {
			return true
		}
	}
	return false
}

// witnessWidth reports whether a module of such chips runs in a socket there.
func (t *setting) witnessWidth(width int) bool {
	for _, seat := range t.fitted {
		if !seat.Soldered && seat.Stick.Width.Or(0) == width {
			return true
		}
	}
	return false
}

// A kindList is the kinds of module that a machine takes, "any" for all.
type kindList struct {
	kinds []string
	says  string
	any   bool
}

func (k kindList) String() string {
	if k.any {
		return "every kind"
	}
	return strings.Join(k.kinds, ", ")
}

func (k kindList) takes(kind string) bool { return k.any || slices.Contains(k.kinds, kind) }

// kinds is what the machine takes of buffering and check bits.
func (t *setting) kinds(w *rule.World) kindList {
	what, look := t.controllers("which kinds of module the machine takes", inSheetOrManual)
	var list kindList
	standing, stated := fact.Settled, false
	for _, c := range t.limits.On(ceiling.Kinds) {
		allowed, ok := c.Allowed.Get()
		if !ok || !c.Holds() {
			continue
		}
		if !stated {
			list, stated = kindList{kinds: slices.Clone(allowed.Words), says: c.Says}, true
		} else {
			list.kinds = slices.DeleteFunc(list.kinds, func(k string) bool { return !slices.Contains(allowed.Words, k) })
			list.says += "; " + c.Says
		}
		standing = min(standing, c.Standing)
	}
	if stated {
		list = t.besideWhatRuns(list)
	}
	switch {
	case stated && standing == fact.Settled:
		return list
	case stated:
		other := t.besideWhatRuns(kindList{any: true})
		if other.says == "" {
			other.says = list.says
		}
		return rule.Choose(w, rule.Possible[kindList]{Key: "kinds", Values: []kindList{list, other}, Leads: true,
			Fact: what, Look: look})
	}
	ordinary := kindList{kinds: []string{ceiling.Ordinary}, says: "most machines take ordinary modules alone"}
	for _, kind := range []string{ceiling.Registered, ceiling.LoadReduced, ceiling.FullyBuffered} {
		if t.witnessKind(kind, true) {
			ordinary = kindList{kinds: []string{kind}, says: "what is fitted is " + kind}
		}
	}
	return rule.Choose(w, rule.Possible[kindList]{Key: "kinds",
		Values: []kindList{ordinary, t.besideWhatRuns(kindList{any: true})}, Fact: what, Look: look, Infers: "witness"})
}

// buffered are the ways in which a module's address lines are driven; a machine that runs one of them takes none of
// the others.
var buffered = [][]string{
	{ceiling.Ordinary, ceiling.ECCModules},
	{ceiling.Registered, ceiling.LoadReduced, ceiling.Multiplexed},
	{ceiling.FullyBuffered},
}

// besideWhatRuns leaves of a list the kinds that are driven as what runs there.
func (t *setting) besideWhatRuns(list kindList) kindList {
	for _, seat := range t.fitted {
		if seat.Soldered || !seat.Stick.Registered.Known() {
			continue
		}
		runs := bufferedAs(&seat.Stick)
		for _, like := range buffered {
			if !slices.Contains(like, runs) {
				continue
			}
			kept := kindList{says: list.says}
			for _, kind := range like {
				if list.takes(kind) {
					kept.kinds = append(kept.kinds, kind)
				}
			}
			if len(kept.kinds) == 0 { // what is said does not fit what runs
				kept.kinds = like
			}
			if len(kept.kinds) < len(list.kinds) || list.any {
				kept.says = strings.TrimPrefix(list.says+"; what runs there is "+unbuffered(runs), "; ")
			}
			return kept
		}
	}
	return list
}
