package module

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/pattern"
)

// A reader goes through a listing word by word. Each fact remembers the words
// that stated it, so that a contradiction can quote both.
type reader struct {
	stick  Module
	words  []word
	at     int
	quotes quotes
	err    error

	total      fact.Fact[jedec.Capacity] // of a kit as a whole, or of the module
	contacts   fact.Fact[int]
	figure     fact.Fact[int] // a figure in MHz, or bare: rate or clock
	definite   bool           // the figure is a rate for certain
	profile    string         // the word that speaks of a profile
	cl         fact.Fact[jedec.Latency]
	timing     []int // clocks stated in a row
	milliVolts fact.Fact[int]
	pieces     fact.Fact[int]
	part       jedec.PartReading
	left       []word // words that said nothing yet
	both       bool   // two supplies are stated
	sdram      string // the word, as it was written
	kitNamed   bool   // a kit is spoken of
	eachBefore bool   // the number of pieces stands behind the size of each
	condition  Condition
	label      maybe.Value[jedec.Label] // a whole label among the words
	rating     error                    // a module rating that only a generation beside it can explain
}

// FromListing reads a shop's free text, or a short specification such as
// "16GB DDR4-3200 SO-DIMM 1Rx8 CL22". Errors wrap ErrContradiction,
// ErrNothing, or an error of package jedec about an unknown rating.
func FromListing(text string) (Module, error) {
	const longest = 1000
	if len(text) > longest {
		return Module{}, fmt.Errorf("%w: a description has at most %d characters, this one %d", ErrNothing, longest,
			len(text))
	}
	r := reader{words: words(text), quotes: make(quotes, 0, 8)}
	for i, w := range r.words {
		if r.isFor(i) {
			continue
		}
		if w.text == meansGoods || w.isMachine() || mayBeGoods(w.text) && otherGoods().MatchString(w.text) {
			return Module{}, w.otherGoods(text)
		}
	}
	r.stick = Module{From: text, Kind: Listing, Checksum: "none"}
	for r.at < len(r.words) && r.err == nil {
		if used := r.take(); used > 0 {
			r.at += used
			continue
		}
		if !r.isFor(r.at) {
			r.left = append(r.left, r.words[r.at])
		}
		r.at++
	}
	r.settle()
	if r.err != nil {
		return Module{}, r.err
	}
	if cooling := slices.IndexFunc(r.left, func(w word) bool { return w.text == meansCooling }); cooling >= 0 &&
		!r.stick.Capacity.Known() {
		return Module{}, r.left[cooling].otherGoods(text)
	}
	for _, w := range r.left {
		r.stick.Passed = append(r.stick.Passed, w.quoted)
	}
	s := r.stick
	s.Condition = r.condition
	if !s.Generation.Known() && !s.Capacity.Known() && !s.Form.Known() && !s.Grade().Known() && len(s.Choices) == 0 &&
		len(s.Leaning) == 0 && !s.Pieces.Known() {
		return Module{}, fmt.Errorf("%w: %q; write it as on the sticker, or as 16GB DDR4-3200 SO-DIMM CL22", ErrNothing, text)
	}
	return s, nil
}

// bareGeneration is a module label's generation without a rating.
var bareGeneration = pattern.Of(`^pc[34][lu]?$|^pc5$`)

// otherGoods are figures that no module carries: graphics memory, processor sockets.
var otherGoods = pattern.Of(`^(?:gddr\d?|lga\d*|am[1-5]\+?|rtx\d*|gtx\d*|geforce|ssd\d+\w*|hdd\d+\w*|` +
	`m\.2|i[3579](?:-\d{3,5}\w*)?)$`)

// isMachine reports whether a word is a machine that modules go into; one make is written with its model.
func (w word) isMachine() bool {
	return w.text == meansMachine || strings.TrimRight(w.text, "0123456789") == "nuc"
}

// isFor reports whether a word is a machine that the module is for: "for NAS", "for Gull NAS".
func (r *reader) isFor(i int) bool {
	return r.words[i].isMachine() &&
		(i > 0 && r.words[i-1].text == meansFor || i > 1 && r.words[i-2].text == meansFor)
}

// otherGoods says which word speaks against a module; of several words that stand together
// none is left to be quoted.
func (w word) otherGoods(text string) error {
	if w.quoted == w.text && (w.text == meansGoods || w.text == meansMachine || w.text == meansCooling) {
		return fmt.Errorf("%w: %q speaks of other goods, or of what does not work", ErrNothing, text)
	}
	return fmt.Errorf("%w: %q speaks of other goods, or of what does not work: %q", ErrNothing, text, w.quoted)
}

// mayBeGoods is true wherever otherGoods matches, and cheap.
func mayBeGoods(w string) bool {
	if len(w) < 2 {
		return false
	}
	switch w[0] {
	case 'g':
		return w[1] == 'd' || w[1] == 't' || w[1] == 'e'
	case 'l', 'r', 's', 'h':
		return w[1] == 'g' || w[1] == 't' || w[1] == 's' || w[1] == 'd'
	case 'a':
		return w[1] == 'm'
	case 'm':
		return w[1] == '.'
	case 'i':
		return isDigit(w[1])
	}
	return false
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
func state[T comparable](r *reader, name string, field *fact.Fact[T], value T, quote string) {
	if have, ok := field.Get(); ok && have != value {
		r.clash(r.quotes.of(name), quote, fmt.Sprintf("%v or %v, not both", have, value))
		return
	}
	*field = fact.Known(value)
	if r.quotes.of(name) == "" {
		r.quotes.set(name, quote)
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
	for _, try := range []func(string) int{r.takeLeast, r.takeKit, r.takeFigure, r.takeGrade, r.takeForm, r.takeLayout,
		r.takeLatency, r.takeKind, r.takePart} {
		if used := try(w); used > 0 || r.err != nil {
			return max(used, 1)
		}
	}
	return 0
}

// takeLeast passes over the least number that is sold at once.
func (r *reader) takeLeast(w string) int {
	if w != meansLeast {
		return 0
	}
	if _, unit, ok := number(r.peek(1)); !ok || unit != "" {
		return 1
	}
	if r.peek(2) == meansPiece {
		return 3
	}
	return 2
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
	if means, ok := lexicons().words[unit]; ok {
		unit = means
	}
	quote := r.quote(used)
	switch strings.TrimSuffix(unit, "s") {
	case "g":
		if used > 1 || !jedec.PlausibleModule(inUnit(n, "gb")) {
			return 0
		}
		state(r, "total", &r.total, inUnit(n, "gb"), quote)
		return used
	case "gb", "gib", "go", "mb", "mib", "mo", "tb":
		state(r, "total", &r.total, inUnit(n, unit), quote)
		return used
	case "mhz", "mt/", "mt", "mtp", "mbp":
		r.takeRate(int(math.Round(n)), strings.HasPrefix(unit, "mt"), quote)
		return used
	case "v", "volt":
		if n >= 10 {
			return 0 // "2666V" is a rate with its bin
		}
		r.takeSupply(int(math.Round(n*1000)), quote)
		return used
	case "pin", "pol", "polig", "contact", "broche", "kontakte", "poli":
		state(r, "contacts", &r.contacts, int(n), quote)
		return used
	}
	// A bare figure behind a generation is its rate: "DDR4 3200".
	if used == 2 && n >= 200 && n < 20000 && r.at > 0 {
		if g, _, ok := jedec.ParseGeneration(r.words[r.at-1].text); ok {
			rate := int(n)
			if _, standard := jedec.GradeAt(g, jedec.Rate(rate)); !standard {
				if x, rated := jedec.GradeRated(g, rate); rated && !slices.Contains(profileRates[g], rate) { // "DDR3 8500"
					rate = int(x.Rate)
				}
			}
			state(r, "rate", &r.figure, rate, r.words[r.at].quoted)
			r.definite = true // without a unit it is not called a clock
			return 1
		}
	}
	return 0
}

// takeRate takes a figure in MHz or MT/s. One that is half of another, beside a word
// that says so or not, is its clock.
func (r *reader) takeRate(n int, isRate bool, quote string) {
	if have, ok := r.figure.Get(); ok && have != n {
		if have == 2*n || have == 2*n+1 || have == 2*n-1 {
			r.definite = true
			return
		}
		if n == 2*have || n == 2*have+1 || n == 2*have-1 {
			r.figure, r.definite = fact.Known(n), true
			return
		}
	}
	r.definite = r.definite || isRate
	state(r, "rate", &r.figure, n, quote)
}

// takeSupply takes a voltage. The low one of DDR3 with the ordinary one beside it is a
// module for both.
func (r *reader) takeSupply(mv int, quote string) {
	if have, ok := r.milliVolts.Get(); ok && (have == 1350 && mv == 1500 || have == 1500 && mv == 1350) {
		r.milliVolts, r.both = fact.Known(1350), true
		return
	}
	state(r, "supply", &r.milliVolts, mv, quote)
}

// takeGrade reads a generation, a grade, or a module rating with whatever the
// label puts behind it.
func (r *reader) takeGrade(w string) int {
	quote := r.quote(1)
	if w == "sdram" { // what every generation is; alone it is the first
		r.sdram = quote
		return 1
	}
	if g, mv, ok := jedec.ParseGeneration(w); ok {
		r.generation(g, mv, quote)
		return 1
	}
	switch {
	case len(w) <= len("pc3l") && bareGeneration().MatchString(w):
		// "PC3L SODIMM": the rating stands elsewhere, or nowhere.
		g, mv, _ := jedec.ParseGeneration("ddr" + w[len("pc"):])
		r.generation(g, mv, quote)
		return 1
	case strings.HasPrefix(w, "pc") && len(w) > 3 && (w[2] >= '0' && w[2] <= '9' || w[2] == '-'):
		l, err := jedec.ParseLabel(w)
		if g, rate, ok := profileRating(w); err != nil && ok { // "PC4-28800": of a rate beyond the grades
			r.generation(g, 0, quote)
			state(r, "rate", &r.figure, rate, quote)
			r.definite = true
			return 1
		}
		if n, ok := bareRating(w); err != nil && ok {
			r.left = append(r.left, word{text: n, quoted: quote}) // "PC1333": a rate, if the generation has it
			return 1
		}
		if digits, old := strings.CutPrefix(w, "pc"); err != nil && old && len(digits) >= 4 && len(digits) <= 5 &&
			strings.Trim(digits, "0123456789") == "" {
			r.left = append(r.left, word{text: digits, quoted: quote}) // "PC6400 DDR2": of another generation than its prefix
			r.rating = fmt.Errorf("%q: %w", r.stick.From, err)
			return 1
		}
		if err != nil {
			r.err = fmt.Errorf("%q: %w", r.stick.From, err)
			return 1
		}
		if g, known := r.stick.Generation.Get(); known && g != l.Grade.Generation && l.Grade.Generation == jedec.DDR {
			// "DDR4 PC3200" is the rate, not DDR's rating.
			r.left = append(r.left, word{text: strings.TrimPrefix(w, "pc"), quoted: quote})
			return 1
		}
		r.takeLabel(l, quote)
		return 1
	case gradeWithBin().MatchString(w): // "DDR4-2666V": as "PC4-2666V", which labels print
		l, err := jedec.ParseLabel("pc" + strings.TrimPrefix(w, "ddr"))
		if err != nil {
			return 0
		}
		r.takeLabel(l, quote)
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

// takeLabel takes what a module rating among other words says.
func (r *reader) takeLabel(l jedec.Label, quote string) {
	state(r, "generation", &r.stick.Generation, l.Grade.Generation, quote)
	if l.MilliVolts != l.Grade.Generation.Trait().MilliVolts[0] {
		state(r, "supply", &r.milliVolts, l.MilliVolts, quote)
	}
	if means, ok := l.Meaning(); ok {
		r.kind(means.Form, means.Kind, quote)
		if means.Kind != jedec.KindUnknown {
			state(r, "ecc", &r.stick.ECC, means.Kind.ECC(), quote) // a label's letter leaves nothing open
		}
	}
	if cl, ok := l.CL.Get(); ok {
		state(r, "latency", &r.cl, cl, quote)
	}
	r.definite = true
	if (l.RawCard != "" || l.SPDRevision != "") && strings.Contains(r.stick.From, quote) { // printed as a whole
		r.label = maybe.Just(l)
	}
	// A figure beside it may be another spelling of the same grade.
	if have, ok := r.figure.Get(); ok {
		if x, real := jedec.GradeAt(l.Grade.Generation, jedec.Rate(have)); !real || x.Rate != l.Grade.Rate {
			r.clash(r.quotes.of("rate"), quote, fmt.Sprintf("%d or %v", have, l.Grade))
			return
		}
	}
	r.figure = fact.Known(int(l.Grade.Rate))
	if r.quotes.of("rate") == "" {
		r.quotes.set("rate", quote)
	}
}

// bareRating is the figure of "PC1333", which is no rating.
func bareRating(w string) (digits string, ok bool) {
	digits = strings.TrimPrefix(w, "pc")
	n, unit, isNumber := number(digits)
	return digits, isNumber && unit == "" && n >= 400 && n < 4000
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

// gradeWithBin is a grade with the letters of its bin, of the generations whose labels print rates.
var gradeWithBin = pattern.Of(`^ddr[45]-\d{4}[a-z]{1,2}$`)

// ratedAs is a module rating without a bin.
var ratedAs = pattern.Of(`^pc([345])-(\d{5})$`)

// profileRating reads the rating of a rate that only profiles have: eight bytes a transfer,
// rounded as makers like, to a hundred MB/s.
func profileRating(w string) (g jedec.Generation, rate int, ok bool) {
	m := ratedAs().FindStringSubmatch(w)
	if m == nil {
		return g, 0, false
	}
	g, _, _ = jedec.ParseGeneration("ddr" + m[1])
	n, _ := strconv.Atoi(m[2])
	for _, x := range profileRates[g] {
		if off := 8*x - n; off >= -100 && off <= 100 && (!ok || max(off, -off) < max(8*rate-n, n-8*rate)) {
			rate, ok = x, true
		}
	}
	return g, rate, ok
}
