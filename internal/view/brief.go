package view

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/propose"
)

// Brief lays out one page about a machine: the conclusion as a sentence, the
// map, the table, then what is not settled.
// unread is what could not be read when the card was made.
func (p *Page) Brief(m machine.Machine, reachable fact.Fact[jedec.Capacity], free []propose.Gain, unread []string,
	proof string) {
	marks := make(legend)
	p.Headline(conclusion(m))
	p.Blank()
	if len(m.Places) > 0 {
		p.SlotMap(sites(m))
		p.Blank()
		p.placeTable(m, marks)
		p.Blank()
	}
	p.totals(m, reachable, marks)
	p.Blank()
	p.identity(m, marks)
	if proof != "" {
		p.Para(13, "  Proved", proof)
	}
	p.Free(free)
	p.doubts(m)
	p.Unread(unread)
	if foot := marks.foot(); foot != "" {
		p.Blank()
		p.Foot(foot)
	}
}

var numberWords = [...]string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"}

func count(n int, noun string) string {
	word := fmt.Sprint(n)
	if n < len(numberWords) {
		word = numberWords[n]
	}
	if n != 1 {
		noun += "s"
	}
	return word + " " + noun
}

func sentence(s string) string {
	if s == "" || len(s) > 1 && unicode.IsUpper(rune(s[1])) {
		return s // tRCD is written so wherever it stands
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// notCounted reports whether the machine's sockets are among what is asked.
func notCounted(m machine.Machine) bool {
	return slices.ContainsFunc(m.Open, func(o machine.Open) bool { return o.About.Topic == machine.AboutSockets })
}

// fittedWords says how much is fitted, and how much of it stays.
func fittedWords(t machine.Totals) string {
	installed, ok := t.Installed.Get()
	if !ok || installed == 0 {
		return ""
	}
	s := fmt.Sprintf(" %v fitted", installed)
	if soldered := t.Soldered.Or(0); soldered > 0 && soldered < installed {
		s += fmt.Sprintf(", %v of it soldered", soldered)
	}
	return s + "."
}

// conclusion says in one or two sentences what a technician came to ask.
func conclusion(m machine.Machine) string {
	t := m.Totals
	sockets, haveSockets := t.Sockets.Get()
	free, haveFree := t.SocketsFree.Get()
	var s string
	switch {
	case len(m.Places) == 0:
		s = "No reading tells where this machine's memory sits."
	case t.Sockets.Standing() == fact.Disputed:
		s = "How many sockets there are is not settled: " + t.Sockets.Why()[len(t.Sockets.Why())-1].Says + "."
	case !haveSockets || !haveFree:
		s = fmt.Sprintf("How many of %s are sockets is not known.", count(len(m.Places), "place"))
	case sockets == 0:
		s = "No socket: all memory is soldered, it can't be upgraded."
	case free == 0 && notCounted(m):
		return sentence(fmt.Sprintf("%s known, and filled; whether there are more nobody counted.",
			count(sockets, "socket"))) + fittedWords(t)
	case free == 0 && sockets == 1:
		s = "One socket, and it is filled."
	case free == 0 && sockets == 2:
		s = "Both sockets are filled."
	case free == 0:
		s = fmt.Sprintf("All %s are filled.", count(sockets, "socket"))
	case free == sockets && sockets == 1:
		s = "One socket, and it is free."
	case free == sockets && sockets == 2:
		s = "Both sockets are free."
	default:
		s = sentence(fmt.Sprintf("%s of %s free.", numberOf(free), count(sockets, "socket")))
	}
	if haveSockets && haveFree && min(t.Sockets.Standing(), t.SocketsFree.Standing()) < fact.Settled {
		s = "Likely: " + strings.ToLower(s[:1]) + s[1:]
	}
	if fit := whatFits(m); fit != "" && sockets > 0 && haveSockets {
		s = strings.TrimSuffix(s, ".") + "; " + fit + "."
	}
	s += fittedWords(t)
	if maximum, ok := t.StatedMaximum.Get(); ok {
		if slices.ContainsFunc(m.Stated, func(x machine.Stated) bool {
			return x.By == machine.ByFirmware && x.Of == machine.Whole && x.Capacity == maximum
		}) {
			s += fmt.Sprintf(" Firmware states a maximum of %v.", maximum)
		} else {
			s += fmt.Sprintf(" A maximum of %v is stated.", maximum)
		}
	}
	return s
}

func numberOf(n int) string {
	word, _, _ := strings.Cut(count(n, ""), " ")
	return word
}

// whatFits names the kind of module that the sockets take, as far as the fitted ones
// tell.
func whatFits(m machine.Machine) string {
	switch form, generation := m.Takes(); {
	case form == jedec.FormUnknown:
		return ""
	case generation == jedec.GenerationUnknown:
		return fmt.Sprintf("takes %vs of a generation that no reading tells", form)
	default:
		return fmt.Sprintf("takes %v %vs", generation, form)
	}
}

func same(s string) string { return s }

func (p *Page) identity(m machine.Machine, marks legend) {
	var named []string
	for _, f := range []fact.Fact[string]{m.Maker, m.Model} {
		if f.Known() {
			named = append(named, show(marks, f, same))
		}
	}
	name := strings.Join(named, " ")
	if name == "" {
		name = "maker and model not stated"
	}
	if m.Kind.Known() {
		name += ", " + show(marks, m.Kind, func(k machine.Kind) string { return string(k) })
	}
	p.Para(13, "  Machine", name)
	for _, r := range machine.Rows() {
		if r.Label == "" {
			continue
		}
		s, ok := r.Show(&m, nil)
		if !ok || s.Text == "" {
			continue
		}
		text := marks.marked(s.Text, s.Standing)
		if n, ok := m.Processors.Get(); ok && n > 1 && r.Topic == machine.AboutProcessor {
			text = fmt.Sprintf("%d of %s%s", n, text, populations(m))
		}
		p.Para(13, "  "+r.Label, text)
	}
}

// populations tells how many sockets of each processor are filled, where their names tell
// whose they are.
func populations(m machine.Machine) string {
	var parts []string
	for _, x := range m.Populations() {
		parts = append(parts, fmt.Sprintf("%d of %d sockets of processor %d filled", x.Filled, x.Sockets, x.Processor))
	}
	if len(parts) == 0 {
		return ""
	}
	return "; " + strings.Join(parts, ", ")
}

func sites(m machine.Machine) []Site {
	var out []Site
	for _, p := range m.Places {
		s := Site{Channel: p.Channel.Or(""), Name: p.Name, Holds: "?"}
		filled, known := p.Filled.Get()
		switch {
		case p.State == machine.NotMemory:
			s.Holds = "no memory"
		case known && !filled:
			s.Holds = "free"
		case p.Module != nil:
			if size, ok := p.Module.Capacity.Get(); ok {
				s.Holds = size.String()
			}
		}
		switch a, ok := p.Attach.Get(); {
		case !ok:
			s.Form = UnclearPlace
		case a == machine.Soldered:
			s.Form = SolderedBank
		case known && !filled:
			s.Form = FreeSocket
		default:
			s.Form = FilledSocket
		}
		out = append(out, s)
	}
	return out
}

func (p *Page) placeTable(m machine.Machine, marks legend) {
	columns := []Column{{"Place", Left, 24}, {"Attached", Left, 0}, {"Holds", Left, 22}, {"Rated", Right, 0},
		{"Runs at", Right, 0}, {"Part", Left, Rest}}
	var rows [][]string
	for _, place := range m.Places {
		attached := show(marks, place.Attach, func(a machine.Attach) string { return string(a) })
		row := []string{place.Name, attached, "", "", "", ""}
		filled, known := place.Filled.Get()
		switch {
		case place.State == machine.NotMemory:
			_, what, _ := strings.Cut(place.StateSays, ": ")
			row[1], row[2] = "", what+", not counted"
		case !known:
			row[2] = marks.marked("", fact.Unknown)
		case !filled:
			row[2] = "free"
		case place.Module != nil:
			row = append(row[:2], moduleCells(place, marks)...)
		}
		rows = append(rows, row)
	}
	p.Table(columns, rows)
}

func moduleCells(p machine.Place, marks legend) []string {
	m := p.Module
	holds := ""
	if p.State == machine.Disabled {
		holds = "disabled: "
	}
	holds += show(marks, m.Capacity, jedec.Capacity.String)
	if g := show(marks, m.Generation, jedec.Generation.String); m.Generation.Known() {
		holds += " " + g
	}
	if m.Form.Known() && m.Form.Or(jedec.FormUnknown) != jedec.Soldered {
		// How firmly the form stands shows under Attached.
		holds += " " + m.Form.Or(jedec.FormUnknown).String()
	}
	number := func(r jedec.Rate) string { return fmt.Sprint(int(r)) }
	var part []string
	for _, f := range []fact.Fact[string]{m.Maker, m.Part} {
		if f.Known() {
			part = append(part, show(marks, f, same))
		}
	}
	return []string{holds, show(marks, m.Rated, number), show(marks, p.Running, number), strings.Join(part, " ")}
}

func (p *Page) totals(m machine.Machine, reachable fact.Fact[jedec.Capacity], marks legend) {
	t := m.Totals
	line := "Fitted " + show(marks, t.Installed, jedec.Capacity.String)
	if soldered, ok := t.Soldered.Get(); ok && soldered > 0 {
		line += fmt.Sprintf(" (%s soldered)", show(marks, t.Soldered, jedec.Capacity.String))
	}
	if t.Visible.Known() {
		line += ", visible to the system " + show(marks, t.Visible, jedec.Capacity.String)
	}
	line += "; stated maximum " + show(marks, t.StatedMaximum, jedec.Capacity.String)
	if reachable.Known() && reachable.Value() != t.StatedMaximum.Value() {
		line += ", reachable " + show(marks, reachable, jedec.Capacity.String)
	}
	line += ". Rates in MT/s."
	p.Para(2, "", line)
}

// doubts shows what contradicts itself and what one look would settle.
func (p *Page) doubts(m machine.Machine) {
	if len(m.Conflicts) > 0 {
		p.Blank()
		p.Heading("Does not add up")
		for _, c := range m.Conflicts[:min(len(m.Conflicts), mostDoubts)] {
			p.Para(4, "  - ", fmt.Sprintf("%s: %s (%s)", c.About, c.Says, strings.Join(c.Sources, ", ")))
		}
		p.more(len(m.Conflicts) - mostDoubts)
	}
	if len(m.Open) > 0 {
		p.Blank()
		p.Heading("Not settled; one look settles it")
		for _, o := range m.Open[:min(len(m.Open), mostDoubts)] {
			p.Para(4, "  - ", fmt.Sprintf("%s: %s", o.About, o.Settles))
		}
		p.more(len(m.Open) - mostDoubts)
	}
}

// Unread lists what could not be read, and what to do about it; nothing where all was.
func (p *Page) Unread(list []string) {
	if len(list) == 0 {
		return
	}
	p.Blank()
	p.Heading("Could not be read; what is open may be open for that")
	for _, x := range list[:min(len(list), mostDoubts)] {
		p.Para(4, "  - ", x+".")
	}
	p.more(len(list) - mostDoubts)
}

// mostDoubts bounds a list of doubts on a page.
const mostDoubts = 24

func (p *Page) more(n int) {
	if n > 0 {
		p.Line("  and %d more; --format json has them all", n)
	}
}
