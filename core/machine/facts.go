package machine

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
)

// A Row is one fact of a machine, or of each of its places, in the table of all. Whatever observes, asks for, shows,
// writes or shares facts of a machine goes through the table: a fact more is a row more.
type Row struct {
	Topic   Topic  // the word by which it is observed and shown
	JSON    string // its key, with its unit; empty where JSON has it elsewhere
	Of      Part   // what it is of
	Label   string // on the page, where it has a line there
	Acted   bool   // a name on which somebody acts: where readings differ in it, both are shown
	Look    string // what settles it, "%s" is the place; empty where one look does not
	Observe Observed
	show    func(*Machine, *Place) module.Shown
}

// A Part is what a fact is of.
type Part uint8

// The parts.
const (
	OfMachine Part = iota // its names
	OfTotals              // sums over its places
	OfPlace
)

// Observed is how a person states a fact. The zero value is one that nobody can state.
type Observed struct {
	Wants    string             // what is accepted, in words, for errors and help
	Accept   func(string) error // nil where any text is
	Values   []string           // those there are, where they are few, for completion
	Question string             // for a form at a terminal; empty where it is not asked there
	Visit    string             // at a visit, "%s" is the place; empty where it is not asked there
	Example  string             // of an answer
	Hint     string             // behind it in a form
	Name     bool               // a name of the machine, which a form lists as such
}

// Can reports whether a person can state the fact.
func (o Observed) Can() bool { return o.Wants != "" }

// Show returns the fact as it is shown; p is the place of one that is of a place. ok is false for one that is only
// stated, and weighed with others.
func (r Row) Show(m *Machine, p *Place) (s module.Shown, ok bool) {
	if r.show == nil {
		return s, false
	}
	return r.show(m, p), true
}

// Kinds are the kinds of machine that a person can state.
var Kinds = []string{string(Laptop), string(Desktop), string(AllInOne), string(Mini), string(Server), string(Other)}

// of makes the shown form of a fact.
func of[T comparable](r Row, f fact.Fact[T], text func(T) string, value func(T) any) module.Shown {
	s := module.Shown{Key: r.JSON, Name: string(r.Topic), Standing: f.Standing(), Why: f.Why(), Against: f.Against()}
	if v, ok := f.Get(); ok {
		s.Text, s.Value = text(v), value(v)
	}
	return s
}

func plainly[T any](v T) any { return v }

// Rows returns the one table of a machine's facts, in the order in which they are shown. The caller does not change
// it.
var Rows = sync.OnceValue(func() []Row {
	const word, text, size = "any text", "a name", "a size, as 32GB"
	name := func(r Row, get func(*Machine) fact.Fact[string]) Row {
		r.show = func(m *Machine, _ *Place) module.Shown { return of(r, get(m), same, plainly) }
		return r
	}
	count := func(r Row, get func(*Machine) fact.Fact[int]) Row {
		r.show = func(m *Machine, _ *Place) module.Shown { return of(r, get(m), strconv.Itoa, plainly) }
		return r
	}
	sum := func(r Row, get func(*Machine) fact.Fact[jedec.Capacity]) Row {
		r.Of = OfTotals
		r.show = func(m *Machine, _ *Place) module.Shown {
			return of(r, get(m), jedec.Capacity.String, func(c jedec.Capacity) any { return c.MiB() })
		}
		return r
	}
	kind := Row{Topic: "kind", JSON: "kind", Observe: Observed{Name: true, Wants: "one of " + strings.Join(Kinds, ", "),
		Values: Kinds, Accept: among(Kinds), Question: "Kind of machine (" + strings.Join(Kinds, ", ") + ")",
		Hint: "laptop, desktop, all-in-one, mini, server or other"}}
	kind.show = func(m *Machine, _ *Place) module.Shown {
		return of(kind, m.Kind, func(k Kind) string { return string(k) }, plainly)
	}
	list := []Row{
		kind,
		name(Row{Topic: "maker", JSON: "maker", Observe: Observed{Name: true, Wants: text, Question: "Maker"}},
			func(m *Machine) fact.Fact[string] { return m.Maker }),
		name(Row{Topic: AboutModel, JSON: "model", Acted: true, Look: "read it off the label underneath",
			Observe: Observed{Name: true, Wants: text, Question: "Model, as on the label underneath",
				Visit: "Which model is it, by its label?", Example: "Gull 14",
				Hint: "the exact one is on the label underneath"}},
			func(m *Machine) fact.Fact[string] { return m.Model }),
		name(Row{Topic: AboutBoard, JSON: "board", Label: "Board", Acted: true, Look: "read it off the board",
			Observe: Observed{Name: true, Wants: text, Question: "Board, as printed on it", Hint: "printed on the board"}},
			func(m *Machine) fact.Fact[string] { return m.Board }),
		name(Row{Topic: AboutProcessor, JSON: "processor", Label: "Processor", Acted: true, Look: "read it off its lid",
			Observe: Observed{Name: true, Wants: text, Question: "Processor, with its number",
				Hint: "as on its lid or its sticker: the number matters"}},
			func(m *Machine) fact.Fact[string] { return m.Processor }),
		count(Row{Topic: "processors", JSON: "processors"}, func(m *Machine) fact.Fact[int] { return m.Processors }),
		name(Row{Topic: AboutChipset, JSON: "chipset", Label: "Chipset", Acted: true, Look: "read it off the board",
			Observe: Observed{Name: true, Wants: text, Example: "GM965",
				Visit: "Which chipset does the board have? The memory controller is in it."}},
			func(m *Machine) fact.Fact[string] { return m.Chipset }),
		name(Row{Topic: "firmware", JSON: "firmware", Label: "Firmware"},
			func(m *Machine) fact.Fact[string] { return m.Firmware }),
		name(Row{Topic: "system", JSON: "os", Label: "System",
			Observe: Observed{Name: true, Wants: text, Question: "Operating system, with 32-bit or 64-bit",
				Hint: "operating system, with 32-bit or 64-bit"}}, func(m *Machine) fact.Fact[string] { return m.OS }),
		generationRow(),
		sum(Row{Topic: "installed", JSON: "installed_mib"},
			func(m *Machine) fact.Fact[jedec.Capacity] { return m.Totals.Installed }),
		sum(Row{Topic: "visible", JSON: "visible_mib"},
			func(m *Machine) fact.Fact[jedec.Capacity] { return m.Totals.Visible }),
		count(Row{Topic: "sockets", JSON: "sockets", Of: OfTotals,
			Look: "open the machine and count its sockets",
			Observe: Observed{Wants: "a number, 1 to 64: count them", Values: []string{"1", "2", "4"},
				Visit: "How many memory sockets do you count?", Example: "2"}},
			func(m *Machine) fact.Fact[int] { return m.Totals.Sockets }),
		count(Row{Topic: "free sockets", JSON: "sockets_free", Of: OfTotals},
			func(m *Machine) fact.Fact[int] { return m.Totals.SocketsFree }),
		sum(Row{Topic: "soldered", JSON: "soldered_mib"},
			func(m *Machine) fact.Fact[jedec.Capacity] { return m.Totals.Soldered }),
		sum(Row{Topic: AboutMaximum, JSON: "stated_maximum_mib",
			Look:    "look the maximum up in the board's manual",
			Observe: Observed{Wants: size, Question: "Most memory the machine takes, as 32GB"}},
			func(m *Machine) fact.Fact[jedec.Capacity] { return m.Totals.StatedMaximum }),
		// Limits that a person states: they are weighed with the others' limits.
		{Topic: "per slot", Observe: Observed{Wants: "the size of a module that is made, as 16GB"}},
		{Topic: "rate", Observe: Observed{Wants: "a data rate in MT/s, as 3200"}},
		{Topic: "supply", Observe: Observed{Wants: "volts, as 1.35 V"}},
		{Topic: "slots a channel", Observe: Observed{Wants: "a number, as 2"}},
		{Topic: "distrust", Observe: Observed{Wants: "a reading, by its source or kind"}},
	}
	return append(list, placeRows(word)...)
})

// generationRow is what the sockets take.
func generationRow() Row {
	r := Row{Topic: AboutGeneration, JSON: "generation"}
	r.show = func(m *Machine, _ *Place) module.Shown {
		return of(r, m.Generation, jedec.Generation.String, func(g jedec.Generation) any { return g.String() })
	}
	return r
}

// placeRows are the facts of each place.
func placeRows(anyText string) []Row {
	forms := []string{jedec.DIMM.String(), jedec.SODIMM.String(), jedec.MicroDIMM.String()}
	attach := Row{Topic: AboutAttach, JSON: "attach", Of: OfPlace,
		Look: "look whether %s is a socket or chips on the board",
		Observe: Observed{Wants: "socket or soldered", Values: []string{string(Socket), string(Soldered)},
			Accept: among([]string{string(Socket), string(Soldered)}), Question: "socket or soldered",
			Visit: "%s: is it a socket, or soldered?", Example: string(Socket)}}
	attach.show = func(_ *Machine, p *Place) module.Shown {
		return of(attach, p.Attach, func(a Attach) string { return string(a) }, plainly)
	}
	filled := Row{Topic: "filled", JSON: "filled", Of: OfPlace}
	filled.show = func(_ *Machine, p *Place) module.Shown {
		return of(filled, p.Filled, func(b bool) string { return map[bool]string{true: "yes", false: "no"}[b] }, plainly)
	}
	form := Row{Topic: "form", JSON: "form", Of: OfPlace, Observe: Observed{Values: forms,
		Wants: "DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2", Question: "takes (DIMM, SO-DIMM …)",
		Accept: func(s string) error {
			if _, ok := jedec.ParseForm(s); !ok {
				return errors.New("DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2")
			}
			return nil
		}}}
	form.show = func(_ *Machine, p *Place) module.Shown {
		return of(form, p.Form, jedec.Form.String, func(f jedec.Form) any { return f.String() })
	}
	channel := Row{Topic: "channel", JSON: "channel", Of: OfPlace, Observe: Observed{Wants: anyText,
		Values: []string{"A", "B"}}}
	channel.show = func(_ *Machine, p *Place) module.Shown { return of(channel, p.Channel, same, plainly) }
	running := Row{Topic: "running", Of: OfPlace}
	running.show = func(_ *Machine, p *Place) module.Shown { return of(running, p.Running, jedec.Rate.String, plainly) }
	supplied := Row{Topic: "supplied", Of: OfPlace}
	supplied.show = func(_ *Machine, p *Place) module.Shown { return of(supplied, p.Supplied, jedec.Volts, plainly) }
	return []Row{attach, filled, form, channel,
		// What sits in it is a module, which has a table of its own.
		{Topic: "holds", Of: OfPlace, Look: "read the sticker of the module in %s", Observe: Observed{
			Wants: "the sticker's text, or free", Values: []string{"free"}, Question: "holds (the sticker's text, or free)",
			Visit: "What does the sticker of the module in %s say?", Example: "8GB 1Rx8 PC4-2400T-SA1-11"}},
		{Topic: "takes", Of: OfPlace, Observe: form.Observe}, running, supplied}
}

func same(s string) string { return s }

// among accepts one of a few values.
func among(values []string) func(string) error {
	return func(s string) error {
		if !slices.Contains(values, s) {
			return errors.New("one of " + strings.Join(values, ", "))
		}
		return nil
	}
}

// RowOf returns the row of a topic; ok is false where there is none, or it is not of that part.
func RowOf(topic Topic, place bool) (r Row, ok bool) {
	i := slices.IndexFunc(Rows(), func(r Row) bool { return r.Topic == topic && (r.Of == OfPlace) == place })
	if i < 0 {
		return r, false
	}
	return Rows()[i], true
}

// Asked is the question of a topic at a visit, of a place where one is named, with an example of an answer.
func (s Subject) Asked() (question, example string) {
	r, _ := RowOf(s.Topic, s.Place != "")
	if s.Place != "" {
		return fmt.Sprintf(r.Observe.Visit, s.Place), r.Observe.Example
	}
	return r.Observe.Visit, r.Observe.Example
}

// Settles is the look that settles a topic, of a place where one is named.
func (s Subject) Settles() string {
	r, _ := RowOf(s.Topic, s.Place != "")
	if s.Place != "" {
		return fmt.Sprintf(r.Look, s.Place)
	}
	return r.Look
}
