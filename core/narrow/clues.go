package narrow

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/records"
)

// readNote takes the total from the panel's line and explains the gap.
func (c *Clues) readNote(r *Result) error {
	if c.Note == "" {
		return nil
	}
	p, err := records.ParsePanel(c.Note)
	installed, ok := p.Installed.Get()
	if err != nil || !ok {
		return fmt.Errorf("%w: the note %q; write it as the panel does, 4.0 GB (3.89 usable)", ErrClue, c.Note)
	}
	if have, ok := c.Total.Get(); ok && have != installed {
		return fmt.Errorf("%w: the note says %v, the total %v; both can't be right", ErrClue, installed, have)
	}
	c.Total = maybe.Just(installed)
	if slots, ok := p.Used.Get(); ok && !c.Slots.Known() {
		c.Slots = maybe.Just(slots)
	}
	usable, ok := p.Usable.Get()
	if !ok {
		return nil
	}
	if usable > installed {
		return fmt.Errorf("%w: the note %q: more usable than installed", ErrClue, c.Note)
	}
	r.Notes = append(r.Notes, gap(installed, usable))
	return nil
}

// gap says what usually takes the part of the memory that is not usable.
func gap(installed, usable jedec.Capacity) string {
	missing := installed - usable
	switch {
	case missing == 0:
		return "all of it is usable"
	case usable <= 3584*jedec.MiB && installed >= 4*jedec.GiB && usable >= 2560*jedec.MiB:
		return fmt.Sprintf("%v of %v are not usable: typical of a 32-bit system, or of firmware that does not move memory "+
			"from below 4 GB", missing, installed)
	case missing <= 512*jedec.MiB:
		return fmt.Sprintf("%v are reserved: the usual share of graphics and firmware; all modules are there", missing)
	case missing <= 2560*jedec.MiB && missing < installed/2:
		return fmt.Sprintf("%v are reserved: a large graphics share, set in the firmware", missing)
	}
	return fmt.Sprintf("%v of %v are not usable: more than graphics take; look for a limit of the system's edition, or "+
		"a module that is not recognised", missing, installed)
}

// looks are what can be looked at, with the value that a candidate shows.
// given tells whether the clue is there already.
var looks = []struct {
	at    string
	given func(Clues) bool
	value func(Candidate) string
}{
	{"whether it is a long module (133 mm), a short one (68 to 70 mm), or chips on the board",
		func(c Clues) bool { return c.Form.Known() },
		func(x Candidate) string { return x.Form.String() }},
	{"the number of contacts (count one side, times two)", func(c Clues) bool { return c.Contacts.Known() },
		func(x Candidate) string {
			if x.Contacts == 0 {
				return "none"
			}
			return fmt.Sprint(x.Contacts)
		}},
	{"where the notch lies, from the left end with the label towards you", func(c Clues) bool { return c.NotchMM.Known() },
		func(x Candidate) string {
			if x.NotchMM == 0 {
				return "not established"
			}
			return fmt.Sprintf("%.1f mm", x.NotchMM)
		}},
	{"the supply printed on the label", func(c Clues) bool { return c.MilliVolts.Known() },
		func(x Candidate) string { return fmt.Sprintf("%d mV", x.Generation.Trait().MilliVolts[0]) }},
	{"what stands behind PC on the label", func(c Clues) bool { return c.Marking != "" },
		func(x Candidate) string {
			if module := x.Generation.Trait().Module; module != "" {
				return module + "…"
			}
			return "none"
		}},
}

// bestLook picks the look after which the fewest candidates remain on
// average; of equal ones the first, which is the easiest.
func (c Clues) bestLook(candidates []Candidate) maybe.Value[Look] {
	var best maybe.Value[Look]
	if len(candidates) < 2 {
		return best
	}
	for _, l := range looks {
		if l.given(c) {
			continue
		}
		var values []string
		groups := make(map[string][]string)
		for _, x := range candidates {
			v := l.value(x)
			if !slices.Contains(values, v) {
				values = append(values, v)
			}
			groups[v] = append(groups[v], x.String())
		}
		look := Look{At: l.at}
		for _, v := range values {
			look.Splits = append(look.Splits, v+": "+strings.Join(groups[v], ", "))
			look.left += float64(len(groups[v])*len(groups[v])) / float64(len(candidates))
		}
		if have, ok := best.Get(); len(values) > 1 && (!ok || look.left < have.left-1e-9) {
			best = maybe.Just(look)
		}
	}
	return best
}
