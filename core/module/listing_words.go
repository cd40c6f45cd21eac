package module

import (
	"math"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
)

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
	state(r, "load-reduced", &r.stick.LoadReduced, k == jedec.LoadReduced, quote)
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
	r.stick.Part, r.part = fact.Known(r.words[r.at].quoted), p
	r.stick.lean(p)
	return 1
}
