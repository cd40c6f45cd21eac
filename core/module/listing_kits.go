package module

import (
	"epitome/core/jedec"
	"epitome/core/pattern"
	"math"
	"slices"
	"strconv"
	"strings"
)

// takeKit reads "2x8gb", "2x8", "2 x 8 gb", "8gbx2", "8gb x 2", "kit of 2", "4 sticks
// of 8 gb", "two 4gb sticks".
func (r *reader) takeKit(w string) int {
	if w == meansKit {
		return r.takeNamedKit()
	}
	if size, used := r.sizeAt(1); w == "x2" && size != "" { // no width of chips, as x4 and x8 are
		return r.kit(2, size, 1+used)
	}
	n, rest, ok := number(w)
	if !ok {
		return 0
	}
	if rest == "" {
		if used := r.takePieces(int(n)); used > 0 {
			return used
		}
	}
	used := 1
	switch {
	case r.organisation(w):
		return 1
	case rest == "" && r.peek(1) == "x":
		rest, used = "x"+r.peek(2), 3
	case rest == "x":
		rest, used = "x"+r.peek(1), 2
	case rest == "" && gluedKit().MatchString(r.peek(1)): // "8 gbx2"
		unit, count, _ := strings.Cut(r.peek(1), "x")
		pieces, _, _ := number(count)
		return r.kit(pieces, w+unit, 2)
	case rest == "" && isSizeUnit(r.peek(1)):
		return r.spacedKit(w + r.peek(1))
	case isSizeUnit(rest) && r.peek(1) == "x":
		if pieces, tail, ok := number(r.peek(2)); ok && tail == "" {
			return r.kit(pieces, w, 3)
		}
	}
	if count, found := strings.CutPrefix(r.peek(1), "x"); found && isSizeUnit(rest) {
		if pieces, tail, ok := number(count); ok && tail == "" { // "8gb x2"
			return r.kit(pieces, w, 2)
		}
	}
	if len(rest) < 2 {
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

// gluedKit is a size's unit with a count behind it.
var gluedKit = pattern.Of(`^[kmgt](?:i?b|o)x[1-9]$`)

// spacedKit reads "16 gb x 2" and "16 gb x2", of which each is a word.
func (r *reader) spacedKit(each string) int {
	count, used := r.peek(3), 4
	if glued, found := strings.CutPrefix(r.peek(2), "x"); found && glued != "" {
		count, used = glued, 3
	} else if r.peek(2) != "x" {
		return 0
	}
	if pieces, tail, ok := number(count); ok && tail == "" {
		return r.kit(pieces, each, used)
	}
	return 0
}

// takeNamedKit reads "kit of 2", "lot of 4 sticks", "kit 2"; a kit of which nothing
// says how many it has leaves open what each of its modules is.
func (r *reader) takeNamedKit() int {
	r.kitNamed = true
	at := 1
	if r.peek(at) == meansOf {
		at++
	}
	n, unit, ok := number(r.peek(at))
	if !ok || unit != "" || n < 1 || n > 16 || n != math.Trunc(n) || r.peek(at+1) == "x" {
		return 1
	}
	if at == 1 && r.peek(2) != meansPiece { // "kit 2" by itself may be anything
		return 1
	}
	if r.peek(at+1) == meansPiece {
		return at + r.pieceOf(int(n), at)
	}
	if size, used := r.sizeAt(at + 1); size != "" && !r.total.Known() { // "kit of 4 8gb"
		return r.kit(n, size, at+1+used)
	}
	state(r, "pieces", &r.pieces, int(n), r.quote(at+1))
	return at + 1
}

// organisation reports whether a word gives how a module's chips or the module are made
// up, "1gx8", "512mx64", and not a kit: the unit is a letter, and the second figure a
// width in bits.
func (r *reader) organisation(w string) bool {
	if r.peek(1) != "x" && !strings.Contains(w, "x") {
		return false // as nearly all words, which need not be matched
	}
	m := organised().FindStringSubmatch(w)
	if m == nil {
		if joined := w + r.peek(1) + r.peek(2); r.peek(1) == "x" {
			if m = organised().FindStringSubmatch(joined); m == nil {
				return false
			}
			r.at += 2
			if !r.organisation(joined) {
				r.at -= 2
				return false
			}
			return true
		}
		return false
	}
	n, _ := strconv.Atoi(m[1])
	if m[2] == "m" || m[3] == "64" || m[3] == "72" || m[3] == "16" && n <= 4 || m[3] == "8" && n <= 4 {
		return true
	}
	return m[3] == "4" && slices.ContainsFunc(r.words, func(w word) bool {
		l, ok := jedec.ParseLayout(w.text)
		return ok && l.Width == 4
	})
}

var organised = pattern.Of(`^(\d{1,4})([gm])x(4|8|16|32|64|72)$`)

// takePieces reads "4 sticks of 8 gb", "4 sticks 8 gb", "two 4gb sticks".
func (r *reader) takePieces(n int) int {
	if n < 2 || n > 16 {
		return 0
	}
	if r.peek(1) == meansPiece {
		return r.pieceOf(n, 0)
	}
	if r.peek(1) == meansOf { // "pair of 8gb"
		if size, used := r.sizeAt(2); size != "" && r.words[r.at].text != r.words[r.at].quoted {
			return r.kit(float64(n), size, 2+used)
		}
	}
	if size, used := r.sizeAt(1); size != "" {
		if r.peek(1+used) == meansPiece {
			return r.kit(float64(n), size, 2+used)
		}
		if r.words[r.at].quoted != r.words[r.at].text && !r.total.Known() { // "pair 8gb"
			return r.kit(float64(n), size, 1+used)
		}
	}
	return 0
}

// pieceOf reads what stands behind a number of pieces, at so many words on: the size of
// each, or nothing.
func (r *reader) pieceOf(n, at int) int {
	next := at + 2
	if r.peek(next) == meansOf {
		next++
	}
	if size, used := r.sizeAt(next); size != "" {
		return r.kit(float64(n), size, next+used) - at
	}
	state(r, "pieces", &r.pieces, n, r.quote(at+2))
	r.eachBefore = r.total.Known()
	return 2
}

// sizeAt is the size that stands so many words on, with how many it takes; empty where
// none does.
func (r *reader) sizeAt(n int) (size string, used int) {
	figure, unit, ok := number(r.peek(n))
	switch {
	case !ok || figure == 0:
		return "", 0
	case isSizeUnit(unit):
		return r.peek(n), 1
	case unit == "" && isSizeUnit(r.peek(n+1)):
		return r.peek(n) + r.peek(n+1), 2
	}
	return "", 0
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
