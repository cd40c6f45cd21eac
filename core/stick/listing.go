package stick

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A reader goes through a listing word by word. Each fact remembers the words
// that stated it, so that a contradiction can quote both.
type reader struct {
	stick  Stick
	words  []word
	at     int
	quotes map[string]string
	err    error

	total      maybe.Value[jedec.Capacity] // of a kit as a whole, or of the module
	contacts   maybe.Value[int]
	figure     maybe.Value[int] // a figure in MHz, or bare: rate or clock
	definite   bool             // the figure is a rate for certain
	profile    string           // the word that speaks of a profile
	cl         maybe.Value[jedec.Latency]
	timing     []int // clocks stated in a row
	milliVolts maybe.Value[int]
	pieces     maybe.Value[int]
	part       jedec.PartReading
}

// FromListing reads a shop's free text, or a short specification such as
// "16GB DDR4-3200 SO-DIMM 1Rx8 CL22". Errors wrap ErrContradiction,
// ErrNothing, or an error of package jedec about an unknown rating.
func FromListing(text string) (Stick, error) {
	const longest = 1000
	if len(text) > longest {
		return Stick{}, fmt.Errorf("%w: a description has at most %d characters, this one %d", ErrNothing, longest, len(text))
	}
	r := reader{words: words(text), quotes: make(map[string]string)}
	r.stick = Stick{From: text, Kind: "listing", Checksum: "none"}
	for r.at < len(r.words) && r.err == nil {
		if used := r.take(); used > 0 {
			r.at += used
			continue
		}
		r.stick.Passed = append(r.stick.Passed, r.words[r.at].quoted)
		r.at++
	}
	r.settle()
	if r.err != nil {
		return Stick{}, r.err
	}
	s := r.stick
	if !s.Generation.Known() && !s.Capacity.Known() && !s.Form.Known() && !s.Grade.Known() && len(s.Choices) == 0 && len(s.Leaning) == 0 && !s.Pieces.Known() {
		return Stick{}, fmt.Errorf("%w: %q; write it as on the sticker, or as 16GB DDR4-3200 SO-DIMM CL22", ErrNothing, text)
	}
	return s, nil
}

// peek returns the word n places on, empty behind the end.
func (r *reader) peek(n int) string {
	if r.at+n < len(r.words) {
		return r.words[r.at+n].text
	}
	return ""
}

// quote returns the next n words as they were written.
func (r *reader) quote(n int) string {
	var parts []string
	for i := range n {
		if r.at+i < len(r.words) {
			parts = append(parts, r.words[r.at+i].quoted)
		}
	}
	return strings.Join(parts, " ")
}

// state sets a fact, or reports the contradiction with what set it before.
func state[T comparable](r *reader, name string, field *maybe.Value[T], value T, quote string) {
	if have, ok := field.Get(); ok && have != value {
		r.clash(r.quotes[name], quote, fmt.Sprintf("%v or %v, not both", have, value))
		return
	}
	*field = maybe.Just(value)
	if _, ok := r.quotes[name]; !ok {
		r.quotes[name] = quote
	}
}

func (r *reader) clash(a, b, why string) {
	if r.err == nil {
		r.err = &ContradictionError{From: r.stick.From, A: a, B: b, Why: why}
	}
}

// take reads what stands at the next word and returns how many words it used,
// 0 where the word says nothing.
func (r *reader) take() int {
	w := r.words[r.at].text
	for _, try := range []func(string) int{r.takeKit, r.takeFigure, r.takeGrade, r.takeForm, r.takeLayout, r.takeLatency, r.takeKind, r.takePart} {
		if used := try(w); used > 0 || r.err != nil {
			return max(used, 1)
		}
	}
	return 0
}

// takeKit reads "2x8gb", "2x8", "2 x 8 gb", "8gbx2", "kit of 2".
func (r *reader) takeKit(w string) int {
	if w == "kit" || w == "set" || w == "pack" {
		if r.peek(1) == "of" {
			if n, unit, ok := number(r.peek(2)); ok && unit == "" && n >= 1 && n <= 16 {
				state(r, "pieces", &r.pieces, int(n), r.quote(3))
				return 3
			}
		}
		return 1
	}
	n, rest, ok := number(w)
	used := 1
	if ok && rest == "" && r.peek(1) == "x" {
		rest, used = "x"+r.peek(2), 3
	}
	if !ok || len(rest) < 2 {
		return 0
	}
	if rest[0] == 'x' {
		if _, unit, ok := number(rest[1:]); ok && unit == "" && isSizeUnit(r.peek(used)) {
			rest += r.peek(used)
			used++
		}
		return r.kit(n, rest[1:], used)
	}
	// "8gbx2"
	if unit, count, found := strings.Cut(rest, "x"); found && isSizeUnit(unit) {
		if pieces, tail, ok := number(count); ok && tail == "" {
			return r.kit(pieces, w[:len(w)-len(count)-1], used)
		}
	}
	return 0
}

// kit takes so many pieces of a size; "2x8" means 8 GB each.
func (r *reader) kit(pieces float64, each string, used int) int {
	size, unit, ok := number(each)
	if !ok || pieces < 1 || pieces > 16 || pieces != math.Trunc(pieces) || unit != "" && !isSizeUnit(unit) {
		return 0
	}
	if unit == "" {
		unit = "gb"
	}
	quote := r.quote(used)
	capacity := inUnit(size, unit)
	if !jedec.PlausibleModule(capacity) {
		return 0
	}
	state(r, "pieces", &r.pieces, int(pieces), quote)
	state(r, "capacity", &r.stick.Capacity, capacity, quote)
	return used
}

func isSizeUnit(s string) bool {
	switch s {
	case "gb", "gib", "go", "mb", "mib", "mo", "g", "tb":
		return true
	}
	return false
}

func inUnit(figure float64, unit string) jedec.Capacity {
	scale := jedec.GiB
	switch unit[0] {
	case 'm':
		scale = jedec.MiB
	case 't':
		scale = jedec.TiB
	}
	return jedec.Capacity(math.Round(figure * float64(scale)))
}

// takeFigure reads a figure with its unit, glued on or in the next word.
func (r *reader) takeFigure(w string) int {
	n, unit, ok := number(w)
	if !ok {
		return 0
	}
	used := 1
	if unit == "" {
		unit, used = r.peek(1), 2
	}
	quote := r.quote(used)
	switch strings.TrimSuffix(unit, "s") {
	case "gb", "gib", "go", "mb", "mib", "mo", "tb":
		state(r, "total", &r.total, inUnit(n, unit), quote)
		return used
	case "mhz", "mt/", "mt", "mtp", "mbp":
		r.definite = r.definite || strings.HasPrefix(unit, "mt")
		state(r, "rate", &r.figure, int(math.Round(n)), quote)
		return used
	case "v", "volt":
		state(r, "supply", &r.milliVolts, int(math.Round(n*1000)), quote)
		return used
	case "pin", "pol", "polig", "contact", "broche", "kontakte", "poli":
		state(r, "contacts", &r.contacts, int(n), quote)
		return used
	}
	// A bare figure behind a generation is its rate: "DDR4 3200".
	if used == 2 && n >= 200 && n < 20000 && r.at > 0 {
		if _, _, ok := jedec.ParseGeneration(r.words[r.at-1].text); ok {
			state(r, "rate", &r.figure, int(n), r.words[r.at].quoted)
			return 1
		}
	}
	return 0
}

// takeGrade reads a generation, a grade, or a module rating with whatever the
// label puts behind it.
func (r *reader) takeGrade(w string) int {
	quote := r.quote(1)
	if g, mv, ok := jedec.ParseGeneration(w); ok {
		r.generation(g, mv, quote)
		return 1
	}
	switch {
	case strings.HasPrefix(w, "pc") && len(w) > 3 && (w[2] >= '0' && w[2] <= '9' || w[2] == '-'):
		l, err := jedec.ParseLabel(w)
		if err != nil {
			r.err = fmt.Errorf("%q: %w", r.stick.From, err)
			return 1
		}
		r.label(l, quote)
		return 1
	case strings.HasPrefix(w, "ddr"), strings.HasPrefix(w, "lpddr"):
		cut := strings.TrimRight(strings.TrimSuffix(strings.TrimSuffix(w, "mhz"), "mt/s"), "-")
		digits := len(strings.TrimRight(cut, "0123456789"))
		name := strings.TrimRight(cut[:digits], "-_")
		g, mv, ok := jedec.ParseGeneration(name)
		figure, _, isFigure := number(cut[digits:])
		if !ok || !isFigure {
			return 0
		}
		r.generation(g, mv, quote)
		r.definite = r.definite || !strings.HasSuffix(w, "mhz")
		state(r, "rate", &r.figure, int(figure), quote)
		return 1
	}
	return 0
}

func (r *reader) generation(g jedec.Generation, milliVolts int, quote string) {
	state(r, "generation", &r.stick.Generation, g, quote)
	if milliVolts != 0 {
		state(r, "supply", &r.milliVolts, milliVolts, quote)
	}
}

// label takes what a module rating among other words says.
func (r *reader) label(l jedec.Label, quote string) {
	state(r, "generation", &r.stick.Generation, l.Grade.Generation, quote)
	if l.MilliVolts != l.Grade.Generation.Trait().MilliVolts[0] {
		state(r, "supply", &r.milliVolts, l.MilliVolts, quote)
	}
	if means, ok := l.Meaning(); ok {
		r.kind(means.Form, means.Kind, quote)
	}
	if cl, ok := l.CL.Get(); ok {
		state(r, "latency", &r.cl, cl, quote)
	}
	r.definite = true
	// A figure beside it may be another spelling of the same grade.
	if have, ok := r.figure.Get(); ok {
		if x, real := jedec.GradeAt(l.Grade.Generation, jedec.Rate(have)); !real || x.Rate != l.Grade.Rate {
			r.clash(r.quotes["rate"], quote, fmt.Sprintf("%d or %v", have, l.Grade))
			return
		}
	}
	r.figure = maybe.Just(int(l.Grade.Rate))
	if r.quotes["rate"] == "" {
		r.quotes["rate"] = quote
	}
}

// formWords are the words for forms and kinds. KindUnknown says nothing of
// the kind: a plain "DIMM" may be registered.
var formWords = map[string]jedec.TypeLetter{
	"sodimm": {Form: jedec.SODIMM}, "so-dimm": {Form: jedec.SODIMM}, "so": {Form: jedec.SODIMM}, "dimm": {Form: jedec.DIMM},
	"udimm": {Form: jedec.DIMM, Kind: jedec.Unbuffered}, "u-dimm": {Form: jedec.DIMM, Kind: jedec.Unbuffered},
	"rdimm": {Form: jedec.DIMM, Kind: jedec.RegisteredECC}, "r-dimm": {Form: jedec.DIMM, Kind: jedec.RegisteredECC},
	"lrdimm": {Form: jedec.DIMM, Kind: jedec.LoadReduced}, "lr-dimm": {Form: jedec.DIMM, Kind: jedec.LoadReduced},
	"fbdimm": {Form: jedec.FBDIMM, Kind: jedec.FullyBuffered}, "fb-dimm": {Form: jedec.FBDIMM, Kind: jedec.FullyBuffered},
	"cudimm": {Form: jedec.DIMM, Kind: jedec.Clocked}, "csodimm": {Form: jedec.SODIMM, Kind: jedec.Clocked}, "cso-dimm": {Form: jedec.SODIMM, Kind: jedec.Clocked},
	"microdimm": {Form: jedec.MicroDIMM}, "micro-dimm": {Form: jedec.MicroDIMM}, "minidimm": {Form: jedec.MiniDIMM}, "mini-dimm": {Form: jedec.MiniDIMM},
	"camm2": {Form: jedec.CAMM2}, "lpcamm2": {Form: jedec.LPCAMM2},
}

func (r *reader) takeForm(w string) int {
	means, ok := formWords[w]
	if !ok {
		return 0
	}
	used := 1
	if w == "so" {
		if r.peek(1) != "dimm" {
			return 0
		}
		used = 2
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
			r.quotes["stack"] = quote
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
	ranks := map[string]int{"single": 1, "dual": 2, "quad": 4, "octal": 8}
	name, glued := strings.CutSuffix(w, "-rank")
	if n, ok := ranks[name]; ok && (glued || r.peek(1) == "rank" || r.peek(1) == "ranked") {
		used := 2
		if glued {
			used = 1
		}
		state(r, "ranks", &r.stick.Ranks, n, r.quote(used))
		return used
	}
	return 0
}

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
	parts := strings.Split(rest, "-")
	if !named && len(parts) < 3 || len(parts) > 5 {
		return 0
	}
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

// takeKind reads ECC, registered and their opposites, and the words that
// speak of an overclocking profile.
func (r *reader) takeKind(w string) int {
	used := 1
	if w == "non" || w == "no" || w == "ohne" || w == "sans" {
		w, used = "non-"+r.peek(1), 2
	}
	quote := r.quote(used)
	switch w {
	case "ecc":
		state(r, "ecc", &r.stick.ECC, true, quote)
	case "non-ecc", "nonecc":
		state(r, "ecc", &r.stick.ECC, false, quote)
	case "registered", "reg":
		state(r, "registered", &r.stick.Registered, true, quote)
		state(r, "ecc", &r.stick.ECC, true, quote)
	case "unbuffered", "unregistered", "non-registered", "non-reg", "ungepuffert":
		state(r, "registered", &r.stick.Registered, false, quote)
	default:
		if strings.HasPrefix(w, "xmp") || strings.HasPrefix(w, "expo") && len(w) <= 7 || w == "profile" {
			r.profile = quote
			return used
		}
		return 0
	}
	return used
}

// takePart reads a part number of a maker whose guide is known.
func (r *reader) takePart(string) int {
	p, ok := jedec.ReadPart(strings.ToUpper(r.words[r.at].quoted))
	if !ok {
		return 0
	}
	r.stick.Part, r.part = r.words[r.at].quoted, p
	r.stick.lean(p)
	return 1
}

// generationsWith lists the generations whose form has so many contacts.
func generationsWith(contacts int) (gens []jedec.Generation, forms []jedec.Form) {
	for _, g := range jedec.Generations() {
		for _, t := range g.Trait().Forms {
			if t.Contacts == contacts && t.Form != jedec.FBDIMM && t.Form != jedec.MiniDIMM {
				gens = append(gens, g)
				if !slices.Contains(forms, t.Form) {
					forms = append(forms, t.Form)
				}
			}
		}
	}
	return gens, forms
}
