package module

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
)

// formWords are the words for forms and kinds. KindUnknown says nothing of
// the kind: a plain "DIMM" may be registered.
var formWords = map[string]jedec.TypeLetter{
	"sodimm": {Form: jedec.SODIMM}, "so-dimm": {Form: jedec.SODIMM}, "so-dimms": {Form: jedec.SODIMM},
	"so": {Form: jedec.SODIMM}, "dimm": {Form: jedec.DIMM},
	"udimm": {Form: jedec.DIMM, Kind: jedec.Unbuffered}, "u-dimm": {Form: jedec.DIMM, Kind: jedec.Unbuffered},
	"rdimm": {Form: jedec.DIMM, Kind: jedec.RegisteredECC}, "r-dimm": {Form: jedec.DIMM, Kind: jedec.RegisteredECC},
	"mrdimm": {Form: jedec.DIMM, Kind: jedec.Multiplexed}, "mcrdimm": {Form: jedec.DIMM, Kind: jedec.Multiplexed},
	"lrdimm": {Form: jedec.DIMM, Kind: jedec.LoadReduced}, "lr-dimm": {Form: jedec.DIMM, Kind: jedec.LoadReduced},
	"fbdimm": {Form: jedec.FBDIMM, Kind: jedec.FullyBuffered}, "fb-dimm": {Form: jedec.FBDIMM, Kind: jedec.FullyBuffered},
	"cudimm": {Form: jedec.DIMM, Kind: jedec.Clocked}, "csodimm": {Form: jedec.SODIMM, Kind: jedec.Clocked},
	"cso-dimm":  {Form: jedec.SODIMM, Kind: jedec.Clocked},
	"microdimm": {Form: jedec.MicroDIMM}, "micro-dimm": {Form: jedec.MicroDIMM}, "minidimm": {Form: jedec.MiniDIMM},
	"mini-dimm": {Form: jedec.MiniDIMM},
	"camm2":     {Form: jedec.CAMM2}, "lpcamm2": {Form: jedec.LPCAMM2},
}

func (r *reader) takeForm(w string) int {
	means, ok := formWords[w]
	if !ok {
		return 0
	}
	used := 1
	if w == "so" {
		if r.peek(1) == "dimm" {
			used = 2
		}
	}
	r.kind(means.Form, means.Kind, r.quote(used))
	return used
}

// kind takes form and, where the word tells it, kind. What a plain word leaves
// open is not taken as "no".
func (r *reader) kind(f jedec.Form, k jedec.Kind, quote string) {
	state(r, "form", &r.stick.Form, f, quote)
	if k == jedec.KindUnknown {
		return
	}
	state(r, "registered", &r.stick.Registered, k.Registered(), quote)
	state(r, "load-reduced", &r.stick.LoadReduced, k == jedec.LoadReduced, quote)
	state(r, "multiplexed-rank", &r.stick.Multiplexed, k == jedec.Multiplexed, quote)
	state(r, "clocked", &r.stick.Clocked, k == jedec.Clocked || k == jedec.ClockedECC, quote)
	if k.ECC() {
		state(r, "ecc", &r.stick.ECC, true, quote)
	}
}

// takeLayout reads "1rx8", "2r x 8", "single rank", "x16".
func (r *reader) takeLayout(w string) int {
	if l, ok := jedec.ParseLayout(w); ok {
		quote := r.quote(1)
		state(r, "ranks", &r.stick.Ranks, l.Ranks, quote)
		state(r, "width", &r.stick.Width, l.Width, quote)
		if l.Stack != 0 {
			r.quotes.set("stack", quote)
		}
		return 1
	}
	if joined := w + r.peek(1) + r.peek(2); r.peek(1) == "x" {
		if l, ok := jedec.ParseLayout(joined); ok {
			state(r, "ranks", &r.stick.Ranks, l.Ranks, r.quote(3))
			state(r, "width", &r.stick.Width, l.Width, r.quote(3))
			return 3
		}
	}
	name, glued := strings.CutSuffix(w, "-rank")
	if n, ok := rankWords[name]; ok && (glued || r.peek(1) == "rank" || r.peek(1) == "ranked") {
		used := 2
		if glued {
			used = 1
		}
		state(r, "ranks", &r.stick.Ranks, n, r.quote(used))
		if width, ok := chipWidths[r.peek(used)]; ok {
			used++
			state(r, "width", &r.stick.Width, width, r.quote(used))
		}
		return used
	}
	return 0
}

var rankWords = map[string]int{"single": 1, "dual": 2, "quad": 4, "octal": 8}

var chipWidths = map[string]int{"x4": 4, "x8": 8, "x16": 16}

// takeLatency reads "cl22", "cl 22", "c22", "cas 22", "16-18-18-38",
// "cl16-18-18-38".
func (r *reader) takeLatency(w string) int {
	rest, named := w, false
	used := 1
	for _, prefix := range []string{"cl", "cas", "c"} {
		if tail, found := strings.CutPrefix(w, prefix); found {
			tail = strings.TrimLeft(tail, "=:-")
			if tail == "" && prefix != "c" {
				tail, used = r.peek(1), 2
			}
			if _, _, ok := number(tail); ok {
				rest, named = tail, true
				break
			}
		}
	}
	if dashes := strings.Count(rest, "-"); !named && dashes < 2 || dashes > 4 {
		return 0
	}
	parts := strings.Split(rest, "-")
	var clocks []float64
	for _, part := range parts {
		n, unit, ok := number(part)
		if !ok || unit != "" || n < 2 || n > 200 {
			return 0
		}
		clocks = append(clocks, n)
	}
	if half := clocks[0] * 2; half != math.Trunc(half) {
		return 0
	}
	quote := r.quote(used)
	state(r, "latency", &r.cl, jedec.Latency(clocks[0]*2), quote)
	if len(clocks) >= 3 && r.timing == nil {
		for _, n := range clocks[1:] {
			r.timing = append(r.timing, int(n))
		}
	}
	return used
}

// takeKind reads ECC, registered and their opposites, condition, and the words that
// speak of an overclocking profile.
func (r *reader) takeKind(w string) int {
	if w == meansNo {
		return r.takeNegated()
	}
	quote := r.quote(1)
	switch w {
	case "ecc":
		if r.answeredNo() {
			state(r, "ecc", &r.stick.ECC, false, r.quote(2))
			return 2
		}
		state(r, "ecc", &r.stick.ECC, true, quote)
	case meansNonECC:
		state(r, "ecc", &r.stick.ECC, false, quote)
	case meansRegistered:
		if r.answeredNo() {
			state(r, "registered", &r.stick.Registered, false, r.quote(2))
			return 2
		}
		state(r, "registered", &r.stick.Registered, true, quote)
		state(r, "ecc", &r.stick.ECC, true, quote)
	case meansUnbuffered:
		state(r, "registered", &r.stick.Registered, false, quote)
	case meansNew, meansUsed, meansRefurbished:
		r.condition = Worse(r.condition, Condition(w))
	case meansLaptop, meansDesktop:
		r.leanForm(w, quote)
	case meansServer:
		r.lean("registered", "yes", quote)
	case "low":
		if r.peek(1) == "profile" { // a height
			return 2
		}
		return 0
	default:
		if no, what, found := strings.Cut(w, "-"); found && lexicons().words[no] == meansNo { // "niet-geregistreerd"
			switch means := lexicons().words[what]; {
			case what == "ecc":
				state(r, "ecc", &r.stick.ECC, false, quote)
				return 1
			case means == meansRegistered || means == meansBuffer || means == meansUnbuffered:
				state(r, "registered", &r.stick.Registered, false, quote)
				return 1
			}
		}
		if strings.HasPrefix(w, "xmp") || strings.HasPrefix(w, "expo") && len(w) <= 7 || w == "profile" {
			r.profile = quote
			return 1
		}
		return 0
	}
	return 1
}

// answers are words that say no by themselves; "without" and its kin want something behind
// them.
var answers = map[string]bool{"nein": true, "nee": true, "nej": true, "нет": true, "hayır": true, "não": true}

// answeredNo reports whether a word's question is answered with no right behind it: "ECC:
// no", "ECC nein", but not "ECC, no box".
func (r *reader) answeredNo() bool {
	if r.peek(1) == meansNoAfter {
		return true
	}
	if r.peek(1) != meansNo {
		return false
	}
	return r.words[r.at].colon || r.peek(2) == "" || answers[strings.ToLower(r.words[r.at+1].quoted)]
}

// takeNegated reads what a word of negation takes away.
func (r *reader) takeNegated() int {
	at := 1
	if r.peek(1) == meansFor {
		at = 2
	}
	switch other := map[string]string{meansLaptop: meansDesktop, meansDesktop: meansLaptop}[r.peek(at)]; {
	case other != "": // "not for laptops"
		r.leanForm(other, r.quote(at+1))
		return at + 1
	case r.peek(at) == meansServer:
		return at + 1
	}
	if g, _, ok := jedec.ParseGeneration(r.peek(at)); ok && r.stick.Generation.Known() && r.stick.Generation.Or(g) != g {
		return at + 1 // "DDR4, not DDR3"
	}
	quote := r.quote(2)
	switch r.peek(1) {
	case "ecc", meansNonECC:
		state(r, "ecc", &r.stick.ECC, false, quote)
	case meansRegistered, meansBuffer, meansUnbuffered:
		state(r, "registered", &r.stick.Registered, false, quote)
	case meansUsed:
		r.condition = Worse(r.condition, New)
	default:
		return 1
	}
	return 2
}

// leanForm notes the form that a seller's word for the machine leans to.
func (r *reader) leanForm(w, quote string) {
	form := jedec.DIMM
	if w == meansLaptop {
		form = jedec.SODIMM
	}
	r.lean("form", form.String(), quote)
}

// lean notes what a seller's word leans to, if no word before it leant to anything of the kind.
// What is for desktops and servers alike is not registered for that.
func (r *reader) lean(what, value, quote string) {
	of := func(what string) func(Hint) bool { return func(h Hint) bool { return h.Fact == what } }
	if what == "form" {
		r.stick.Leaning = slices.DeleteFunc(r.stick.Leaning, of("registered"))
	} else if slices.ContainsFunc(r.stick.Leaning, of("form")) {
		return
	}
	if !slices.ContainsFunc(r.stick.Leaning, of(what)) {
		r.stick.Leaning = append(r.stick.Leaning, Hint{what, value, "the seller's word " + strconv.Quote(quote)})
	}
}

// A Condition is in which state a module is sold, by its description.
type Condition string

// The conditions. Empty where the description does not say.
const (
	New         Condition = meansNew
	Used        Condition = meansUsed
	Refurbished Condition = meansRefurbished
)

// ConditionOf is the condition that a word or a few of them state, as in a price list's
// column.
func ConditionOf(text string) (c Condition, ok bool) {
	for _, w := range words(text) {
		switch w.text {
		case meansNew, meansUsed, meansRefurbished:
			c = Worse(c, Condition(w.text))
		}
	}
	return c, c != ""
}

// Worse is the worse of two conditions; one that is not stated says nothing.
func Worse(a, b Condition) Condition {
	rank := map[Condition]int{"": 0, New: 1, Refurbished: 2, Used: 3}
	if rank[b] > rank[a] {
		return b
	}
	return a
}

// takePart reads a part number of a maker whose guide is known.
func (r *reader) takePart(string) int {
	p, ok := jedec.ReadPart(strings.ToUpper(r.words[r.at].quoted))
	if !ok {
		return 0
	}
	r.stick.Part, r.part = fact.Known(r.words[r.at].quoted), p
	r.stick.lean(p)
	return 1
}
