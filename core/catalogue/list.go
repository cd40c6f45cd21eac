package catalogue

import (
	"fmt"
	"regexp"
	"regexp/syntax"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// An Entry is one line of the catalogue's list.
type Entry struct {
	Kind        string // "processor", "chipset", "board", "system"
	ID, Name    string
	Generations []string
	Confidence  Confidence
	Where       string // "FILE:LINE" of the user's own, empty for embedded ones
}

// Entries lists everything that is known, the user's own entries first, that
// has all of the words in its kind, name, id or generations.
func (k Catalogue) Entries(words ...string) []Entry {
	var all []Entry
	for i := len(k.own) - 1; i >= 0; i-- {
		all = append(all, k.own[i].entries()...)
	}
	families := make(map[string]int) // where each stands in the list
	for _, r := range controllerRows() {
		if r.led() {
			all = append(all, Entry{Kind: "processor", ID: r.text("id"), Name: r.text("family"),
				Confidence: Confidence(r.text("confidence"))})
			continue
		}
		if at, seen := families[r.text("id")]; seen {
			all[at].Generations = append(all[at].Generations, r.text("generation"))
			continue
		}
		families[r.text("id")] = len(all)
		all = append(all, Entry{Kind: "processor", ID: r.text("id"), Name: r.text("family"),
			Generations: []string{r.text("generation")}, Confidence: Confidence(r.text("confidence"))})
	}
	for _, r := range chipsetRows() {
		all = append(all, Entry{Kind: "chipset", ID: r.text("id"), Name: r.text("name"), Generations: r.list("generations"),
			Confidence: Confidence(r.text("confidence"))})
	}
	for _, s := range Systems() {
		all = append(all, Entry{Kind: "system", Name: s.Name(), Confidence: s.Confidence})
	}
	var found []Entry
	for _, e := range all {
		if e.has(words) {
			found = append(found, e)
		}
	}
	return found
}

func (e Entry) has(words []string) bool {
	text := strings.ToLower(strings.Join(append([]string{e.Kind, e.ID, e.Name, e.Where}, e.Generations...), " "))
	for _, w := range words {
		if !strings.Contains(text, strings.ToLower(w)) {
			return false
		}
	}
	return true
}

func (o Overlay) entries() (out []Entry) {
	for _, p := range o.Processors {
		e := Entry{Kind: "processor", ID: p.ID, Name: p.Family, Where: p.Where, Confidence: p.Takes[0].Confidence}
		for _, c := range p.Takes {
			e.Generations = append(e.Generations, c.Generation)
		}
		out = append(out, e)
	}
	for _, c := range o.Chipsets {
		out = append(out, Entry{Kind: "chipset", ID: c.ID, Name: c.Name, Generations: c.Generations,
			Confidence: c.Confidence, Where: c.Where})
	}
	for _, b := range o.Boards {
		out = append(out, Entry{Kind: "board", Name: strings.TrimSpace(b.Maker + " " + strings.Join(b.Names, ", ")),
			Generations: b.Generations, Confidence: b.Confidence, Where: b.Where})
	}
	return out
}

// A Found is what a name or an id stands for in the catalogue.
type Found struct {
	Controllers []Controller
	Led         []LedFamily // processors whose controller is in the chipset
	Chipsets    []Chipset
	Boards      []Board
	Systems     []System
	Sold        []Sold
}

// Empty reports whether nothing goes by the name.
func (f Found) Empty() bool {
	return len(f.Controllers)+len(f.Led)+len(f.Chipsets)+len(f.Boards)+len(f.Systems)+len(f.Sold) == 0
}

// And puts two findings together.
func (f Found) And(more Found) Found {
	return Found{append(f.Controllers, more.Controllers...), append(f.Led, more.Led...),
		append(f.Chipsets, more.Chipsets...), append(f.Boards, more.Boards...),
		append(f.Systems, more.Systems...), append(f.Sold, more.Sold...)}
}

// Named finds what goes by an id or a name, as the list has it: a processor family, a
// chipset, a board, a system, or a generation and form such as "DDR4 SO-DIMM" for the
// modules that are sold. Figures that differ by brand are not known of a family.
func (k Catalogue) Named(name string) (f Found) {
	wanted := folded(name)
	is := func(names ...string) bool {
		for _, n := range names {
			if wanted != "" && folded(n) == wanted {
				return true
			}
		}
		return false
	}
	for _, o := range k.own {
		for _, p := range o.Processors {
			if is(p.ID, p.Family) {
				f.Controllers = append(f.Controllers, p.Takes...)
			}
		}
		for _, c := range o.Chipsets {
			if is(c.ID, c.Name) {
				f.Chipsets = append(f.Chipsets, c)
			}
		}
	}
	for _, r := range controllerRows() {
		switch {
		case !is(r.text("id"), r.text("family")):
		case r.led():
			f.Led = append(f.Led, r.ledFamily())
		default:
			f.Controllers = append(f.Controllers, r.controller(""))
		}
	}
	for _, r := range chipsetRows() {
		if is(r.text("id"), r.text("name")) {
			f.Chipsets = append(f.Chipsets, r.chipset())
		}
	}
	f.Boards = k.Boards(name)
	for _, s := range Systems() {
		if is(s.Name(), s.OS, s.OS+" "+s.Edition) {
			f.Systems = append(f.Systems, s)
		}
	}
	if first, last, found := strings.Cut(wanted, " "); found {
		g, _, ok := jedec.ParseGeneration(first)
		if form, known := jedec.ParseForm(last); ok && known {
			f.Sold = Market(g, form)
		}
	}
	return f
}

// NamedProcessor finds a processor as it names itself, or as people write it: "i7-11800H".
func (k Catalogue) NamedProcessor(p Processor) (f Found) {
	if f.Controllers = k.Controllers(p); len(f.Controllers) == 0 {
		if led, ok := k.led(p).Get(); ok {
			f.Led = []LedFamily{led}
		}
	}
	return f
}

// A Shadow is an entry of the user's that takes the place of another.
type Shadow struct {
	Where string // of the user's entry
	Over  string // what it takes the place of
}

// Shadows lists what an overlay's entries take the place of, in the embedded
// tables and in what already lies in the catalogue.
func (k Catalogue) Shadows(o Overlay) (found []Shadow) {
	for _, own := range o.Processors {
		last := ""
		for _, r := range controllerRows() {
			if id := r.text("id"); id != last && own.shadows(r) {
				last = id
				found = append(found, Shadow{own.Where, "embedded " + r.text("family") + " (" + id + ")"})
			}
		}
	}
	for _, own := range o.Chipsets {
		for _, id := range own.ids {
			for _, c := range k.Chipsets(id) {
				found = append(found, Shadow{own.Where, fmt.Sprintf("%s (%s) by its id %s", c.Name, firstOf(c.Where, c.ID), id)})
			}
		}
	}
	for _, own := range o.Boards {
		for _, name := range own.Names {
			for _, b := range k.Boards(name, own.Maker+" "+name) {
				found = append(found, Shadow{own.Where, name + " of " + b.Where})
			}
		}
	}
	return found
}

func firstOf(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
}

// shadowSamples is how many strings of an expression's form are tried.
const shadowSamples = 200

// shadows reports whether a processor of an embedded row could be taken for
// the user's: strings of either expression's form are tried against the other,
// with the row's numbers.
func (own OwnProcessor) shadows(r row) bool {
	theirs, err1 := syntax.Parse(r.text("brand_regex"), syntax.Perl)
	mine, err2 := syntax.Parse(own.Brand, syntax.Perl)
	if err1 != nil || err2 != nil || !own.sharesNumbers(r) {
		return false
	}
	theirs, mine = theirs.Simplify(), mine.Simplify()
	embedded, err := regexp.Compile(r.text("brand_regex"))
	if err != nil {
		return false
	}
	expression, err := regexp.Compile(own.Brand)
	if err != nil {
		return false
	}
	for pick := range shadowSamples {
		if expression.MatchString(sample(theirs, pick)) || embedded.MatchString(sample(mine, pick)) {
			return true
		}
	}
	return false
}

// sharesNumbers reports whether family and model of a row can be the user's.
func (own OwnProcessor) sharesNumbers(r row) bool {
	if !sameNumber(r.list("cpuid_family"), own.CPUFamily) {
		return false
	}
	for _, m := range own.CPUModels {
		if sameNumber(r.list("cpuid_model"), maybe.Just(m)) {
			return true
		}
	}
	return len(own.CPUModels) == 0
}

// sample writes a string that an expression matches, taking the pick-th of
// each choice.
func sample(re *syntax.Regexp, pick int) string {
	switch re.Op {
	case syntax.OpLiteral:
		return string(re.Rune)
	case syntax.OpCharClass:
		return string(re.Rune[0] + rune(pick)%(re.Rune[1]-re.Rune[0]+1))
	case syntax.OpAlternate:
		return sample(re.Sub[pick%len(re.Sub)], pick/len(re.Sub))
	case syntax.OpConcat:
		out := ""
		for _, sub := range re.Sub {
			out += sample(sub, pick)
		}
		return out
	case syntax.OpCapture:
		return sample(re.Sub[0], pick)
	case syntax.OpPlus:
		return sample(re.Sub[0], pick)
	case syntax.OpRepeat:
		out := ""
		for i := range re.Min {
			out += sample(re.Sub[0], pick+i)
		}
		return out
	case syntax.OpQuest, syntax.OpStar:
		if pick%2 == 1 {
			return sample(re.Sub[0], pick)
		}
	}
	return ""
}
