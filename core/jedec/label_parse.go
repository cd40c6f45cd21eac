package jedec

import (
	"fmt"
	"strconv"
	"strings"

	"epitome/core/maybe"
)

// ParseLabel reads a standard label. Case and runs of blanks do not matter;
// order does. Errors wrap ErrNotLabel or ErrLabel.
func ParseLabel(s string) (Label, error) {
	p := labelParser{whole: s}
	rating := ""
	for word := range strings.FieldsSeq(s) {
		if rating != "" {
			return Label{}, &notLabel{"%[1]v: %[3]q follows the rating in %[2]q", s, word}
		}
		switch {
		case hasPrefixFold(word, "PC") && len(word) > 3 && isDigit(word[2:3][0]) || hasPrefixFold(word, "PC-"):
			rating = word
		case p.capacity(word), p.layout(word), p.unit(word):
		default:
			return Label{}, &notLabel{
				"%[1]v: %[2]q; one begins with a size, ranks or PC, as in 8GB 1Rx8 PC4-2400T-SA1-11", s, ""}
		}
		if p.err != nil {
			return Label{}, p.err
		}
	}
	if rating == "" {
		return Label{}, &notLabel{"%[1]v: %[2]q has no part that begins with PC", s, ""}
	}
	p.rating(strings.ToUpper(rating))
	if p.err != nil {
		return Label{}, p.err
	}
	return p.label, nil
}

// A notLabel is the error of a text that is no label. Every text of a price list is tried as one first, so it is put
// into words only where somebody reads it.
type notLabel struct{ format, whole, part string }

func (e *notLabel) Error() string {
	args := []any{ErrNotLabel, e.whole, e.part}
	if e.part == "" {
		args = args[:2]
	}
	return fmt.Sprintf(e.format, args...)
}

func (e *notLabel) Unwrap() error { return ErrNotLabel }

// A labelParser fills a label part by part. The first wrong part ends it.
type labelParser struct {
	whole  string
	label  Label
	number string // a size that waits for its unit, "8" of "8 GB"
	err    error
}

func (p *labelParser) fail(part, why string, args ...any) {
	if p.err == nil {
		p.err = &LabelError{Label: p.whole, Part: part, Why: fmt.Sprintf(why, args...)}
	}
}

func isDigit(b byte) bool  { return b >= '0' && b <= '9' }
func isLetter(b byte) bool { return b >= 'A' && b <= 'Z' || b >= 'a' && b <= 'z' }

func hasPrefixFold(s, prefix string) bool {
	return len(s) >= len(prefix) && strings.EqualFold(s[:len(prefix)], prefix)
}

// digits returns the number that s begins with, at most six digits, and how
// many bytes it takes.
func digits(s string) (number, size int) {
	for size < len(s) && size < 7 && isDigit(s[size]) {
		number = number*10 + int(s[size]-'0')
		size++
	}
	if size == 7 {
		return 0, 0
	}
	return number, size
}

// capacity reads "8GB", "512MB", or a number whose unit is the next word.
func (p *labelParser) capacity(word string) bool {
	number, n := digits(word)
	if n == 0 || p.label.Capacity.Known() || p.number != "" {
		return false
	}
	if n == len(word) {
		p.number = word
		return true
	}
	return p.size(number, word[n:], word)
}

func (p *labelParser) unit(word string) bool {
	if p.number == "" {
		return false
	}
	number, _ := digits(p.number)
	defer func() { p.number = "" }()
	return p.size(number, word, p.number+" "+word)
}

func (p *labelParser) size(number int, unit, part string) bool {
	var size Capacity
	switch {
	case strings.EqualFold(unit, "GB"):
		size = Capacity(number) * GiB
	case strings.EqualFold(unit, "MB"):
		size = Capacity(number) * MiB
	case strings.EqualFold(unit, "TB"):
		size = Capacity(number) * TiB
	default:
		return false
	}
	if !PlausibleModule(size) {
		p.fail(part, "no module has that size; sizes are powers of two, or of DDR5 12, 24, 48 and so on")
	}
	p.label.Capacity = maybe.Just(size)
	return true
}

// PlausibleModule reports whether a module of any generation can have that
// size: a power of two from 8 MB to 1 TB, or one and a half times one from
// 12 GB on (24 Gbit dies).
func PlausibleModule(c Capacity) bool {
	power := func(c Capacity) bool { return c != 0 && c&(c-1) == 0 }
	switch {
	case c < 8*MiB || c > TiB:
		return false
	case power(c):
		return true
	}
	return c >= 12*GiB && c%3 == 0 && power(c/3)
}

// layout reads "1Rx8", "2S4Rx4", "2DRx8".
func (p *labelParser) layout(word string) bool {
	_, n := digits(word)
	if n == 0 || p.label.Layout.Known() {
		return false
	}
	l, ok := ParseLayout(word)
	if !ok {
		if upper := strings.ToUpper(word[n:]); strings.HasPrefix(upper, "RX") {
			p.fail(word, "modules have 1, 2, 4 or 8 ranks of chips x4, x8 or x16")
			return true
		}
		return false
	}
	p.label.Layout = maybe.Just(l)
	return true
}

// ParseLayout reads ranks and width as labels write them: "1Rx8", "2S4Rx4".
func ParseLayout(s string) (Layout, bool) {
	var l Layout
	ranks, n := digits(s)
	rest := s[n:]
	l.Ranks = ranks
	if n == 0 || rest == "" {
		return l, false
	}
	if c := rest[0] &^ 0x20; c == 'S' || c == 'D' {
		l.Stack = c
		var size int
		l.Dies, size = digits(rest[1:])
		rest = rest[1+size:]
	}
	if !hasPrefixFold(rest, "Rx") {
		return l, false
	}
	width, n := digits(rest[2:])
	l.Width = width
	if n != len(rest)-2 {
		return l, false
	}
	return l, (l.Ranks == 1 || l.Ranks == 2 || l.Ranks == 4 || l.Ranks == 8) &&
		(width == 4 || width == 8 || width == 16) && l.Dies <= 16
}

// rating reads the part that begins with PC, in upper case.
func (p *labelParser) rating(s string) {
	first, rest, _ := strings.Cut(s[2:], "-")
	generation, class := DDR, ""
	switch {
	case first == "": // PC-3200
		first, rest, _ = strings.Cut(rest, "-")
	case len(first) <= 2 && first[0] >= '2' && first[0] <= '5':
		generation = DDR2 + Generation(first[0]-'2')
		class = first[1:]
		first, rest, _ = strings.Cut(rest, "-")
	}
	t := generation.Trait()
	known := false
	for i, c := range t.Classes {
		if c == class {
			p.label.MilliVolts, known = t.MilliVolts[i], true
		}
	}
	if !known {
		p.fail("PC"+strconv.Itoa(int(generation-DDR)+1)+class, "%v has no voltage class %q", generation, class)
		return
	}
	number, n := digits(first)
	grade, ok := gradeOfModule(generation, number)
	if !ok && generation == DDR {
		if grade, ok = GradeRated(SDR, number); ok {
			p.label.MilliVolts = SDR.Trait().MilliVolts[0]
		}
	}
	if !ok || n == 0 {
		p.fail(t.Module+first, "no such rating; the nearest are %s",
			nearest(generation, func(x Grade) int { return moduleDistance(x, number) },
				func(x Grade) string { return x.Module() + " (" + x.String() + ")" }))
		return
	}
	p.label.Grade = grade
	letters := first[n:]
	// Shops and some makers print the bandwidth with the type letter behind,
	// PC4-19200S, where the standard prints the rate with the bin behind.
	byRate := (generation == DDR4 || generation == DDR5) && number < 10000
	switch {
	case byRate && generation == DDR4:
		p.newer(letters, rest, 2, "two digits, as 11 for 1.1")
	case byRate:
		p.newer(letters, rest, 4, "four digits, as 1010 for 1.0 and 1.0")
	default:
		p.kind(letters)
		p.older(rest)
	}
}

// kind reads the module-type letter.
func (p *labelParser) kind(letter string) {
	if letter == "" {
		return
	}
	p.label.Type = letter[0]
	if _, ok := p.label.Meaning(); !ok || len(letter) != 1 {
		p.fail(letter, "no module-type letter of %v; they are %s", p.label.Grade.Generation,
			letterList(p.label.Grade.Generation))
	}
}

func letterList(g Generation) string {
	var b strings.Builder
	for i, t := range typeLetters[g] {
		if i > 0 {
			b.WriteString(", ")
		}
		fmt.Fprintf(&b, "%c (%v %v)", t.Letter, t.Kind, t.Form)
	}
	return b.String()
}

// next takes one dash-separated part off rest.
func next(rest string) (part, after string) {
	part, after, _ = strings.Cut(rest, "-")
	return part, after
}

// older reads what follows the rating up to DDR3: timings, SPD revision, raw
// card.
func (p *labelParser) older(rest string) {
	part, rest := next(rest)
	if part == "" {
		return
	}
	switch p.label.Grade.Generation {
	case DDR:
		part = p.timingDDR(part)
	case DDR2:
		p.timingDDR2(part)
		part = ""
	case SDR: // what follows packs an access time and a revision; it is kept as printed
		p.timingDDR2(part)
		p.label.Suffix = rest
		return
	case DDR4, DDR5: // bandwidth spelling: nothing more is standard
		p.label.Suffix = strings.TrimSuffix(part+"-"+rest, "-")
		return
	case DDR3:
		p.latencyDDR3(part)
		part = ""
	}
	if p.err != nil {
		return
	}
	if part == "" {
		part, rest = next(rest)
	}
	if part != "" && !allDigits(part) {
		p.fail(part, "an SPD revision is a number, as 12 for 1.2")
		return
	}
	p.label.SPDRevision = part
	p.label.RawCard, rest = next(rest)
	p.label.Suffix = rest
	p.card()
}

// card checks that the raw card is letters and digits.
func (p *labelParser) card() {
	for i := range len(p.label.RawCard) {
		if b := p.label.RawCard[i]; !isDigit(b) && !isLetter(b) {
			p.fail(p.label.RawCard, "a raw card is a letter or two and its revision, as A1")
			return
		}
	}
}

func allDigits(s string) bool {
	for i := range len(s) {
		if !isDigit(s[i]) {
			return false
		}
	}
	return true
}

// timingDDR reads "2533": CL 2.5 in tenths, tRCD, tRP; a fifth digit is the
// SPD revision, which is returned.
func (p *labelParser) timingDDR(part string) (revision string) {
	if !allDigits(part) || len(part) < 4 || len(part) > 5 {
		p.fail(part, "DDR's timings are four digits, as 2533 for 2.5-3-3")
		return ""
	}
	tenths, _ := digits(part[:2])
	if tenths%5 != 0 || tenths < 20 || tenths > 40 {
		p.fail(part, "DDR has CAS latencies 2, 2.5, 3 and 4, not %d.%d", tenths/10, tenths%10)
		return ""
	}
	p.setTiming(part, Timing{CL: Latency(tenths / 5), TRCD: int(part[2] - '0'), TRP: int(part[3] - '0')})
	return part[4:]
}

// timingDDR2 reads "555".
func (p *labelParser) timingDDR2(part string) {
	if !allDigits(part) || len(part) != 3 {
		p.fail(part, "DDR2's timings are three digits, as 555")
		return
	}
	p.setTiming(part, Timing{CL: Whole(int(part[0] - '0')), TRCD: int(part[1] - '0'), TRP: int(part[2] - '0')})
}

func (p *labelParser) setTiming(part string, t Timing) {
	if t.TRCD == 0 || t.TRP == 0 || t.CL == 0 {
		p.fail(part, "a timing of 0 clocks does not exist")
	}
	p.label.Timing, p.label.CL = maybe.Just(t), maybe.Just(t.CL)
}

func (p *labelParser) latencyDDR3(part string) {
	clocks, n := digits(part)
	if n != len(part) || clocks < 5 || clocks > 16 {
		p.fail(part, "DDR3 has CAS latencies 5 to 16")
		return
	}
	p.label.CL = maybe.Just(Whole(clocks))
}

// bin sets the speed bin and, where the standard defines it, its timings.
func (p *labelParser) bin(letters string) {
	p.label.Bin = letters
	if letters == "" {
		return
	}
	b, ok := BinNamed(p.label.Grade, letters)
	if !ok {
		var names []string
		for _, b := range Bins(p.label.Grade) {
			names = append(names, b.Name())
		}
		if p.label.Grade.Generation == DDR5 && (letters == "AN" || letters == "BN") {
			return // a real class whose timings are not in the table
		}
		p.fail(letters, "no speed bin of %v; they are %s", p.label.Grade, strings.Join(names, ", "))
		return
	}
	p.label.Timing, p.label.CL = maybe.Just(b.Timing), maybe.Just(b.Timing.CL)
}

// typeAndCard reads "SA1": the type letter, then the raw card.
func (p *labelParser) typeAndCard(part string) {
	if part == "" {
		return
	}
	p.kind(part[:1])
	p.label.RawCard = part[1:]
	p.card()
}

// newer reads what follows the rate from DDR4 on: bin, type and raw card, SPD
// revision of so many digits, suffix.
func (p *labelParser) newer(letters, rest string, revision int, shape string) {
	p.bin(letters)
	part, rest := next(rest)
	p.typeAndCard(part)
	p.label.SPDRevision, p.label.Suffix = next(rest)
	if !allDigits(p.label.SPDRevision) || len(p.label.SPDRevision) > revision {
		p.fail(p.label.SPDRevision, "an SPD revision is %s", shape)
	}
}
