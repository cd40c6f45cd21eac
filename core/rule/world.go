package rule

import (
	"fmt"
	"slices"
)

// A Possible is what an open fact may be.
type Possible[T any] struct {
	Key    string // the fact's own: asked twice in a world, it has one value
	Values []T    // at least one; the leading one first, where one leads
	Leads  bool   // the evidence leans to the first value
	Fact   string // in words, "the die density"
	Look   string // what would tell
	// Infers is the inference that left just these values, by id; empty where a
	// reading says it.
	Infers string
	// More says that it may have other values, too, which lie between these.
	More bool
}

// A World is one way things may be. It is built as a rule asks for what it
// needs.
type World struct {
	path     []pick // the choices, in the order in which they were asked for
	inferred []string
	more     []Dependence // facts that may have more values than were looked at
	n        int          // of the path, asked for so far in this walk
}

// A pick is one choice on the way through a world.
type pick struct {
	key, fact, look, leans string
	at, of                 int
	leads                  bool
}

// Choose returns the value that an open fact has in this world.
func Choose[T any](w *World, p Possible[T]) T {
	if p.Infers != "" && !slices.Contains(w.inferred, p.Infers) {
		w.inferred = append(w.inferred, p.Infers)
	}
	if p.More && !slices.ContainsFunc(w.more, func(d Dependence) bool { return d.Fact == p.Fact }) {
		w.more = append(w.more,
			Dependence{Key: p.Key, Fact: p.Fact, Else: "it may be between what was looked at", Look: p.Look})
	}
	if len(p.Values) == 1 {
		return p.Values[0]
	}
	for _, x := range w.path[:w.n] {
		if x.key == p.Key {
			return p.Values[min(x.at, len(p.Values)-1)]
		}
	}
	if w.n == len(w.path) {
		leans := ""
		if p.Leads {
			leans = fmt.Sprint(p.Values[0])
		}
		w.path = append(w.path, pick{key: p.Key, fact: p.Fact, look: p.Look, leans: leans, of: len(p.Values), leads: p.Leads})
	}
	at := w.path[w.n].at
	w.n++
	return p.Values[min(at, len(p.Values)-1)]
}

// next goes on to the next world; false where all were seen.
func (w *World) next() bool {
	w.path = w.path[:w.n]
	for len(w.path) > 0 {
		last := &w.path[len(w.path)-1]
		if last.at++; last.at < last.of {
			w.n = 0
			return true
		}
		w.path = w.path[:len(w.path)-1]
	}
	return false
}

// A Said is what a rule says of one world.
type Said struct {
	Outcome Outcome // OK, Reduced or Refused
	Says    string
	Source  string
}

// mostWorlds bounds how many worlds one rule is asked in. Each has a handful;
// where a set has more, what was seen of them and the leading one decide.
const mostWorlds = 256

// A leaf is one world with what the rule said of it.
type leaf struct {
	path []pick
	said Said
}

// leads reports whether every choice of the world is a leading one.
func (l leaf) leads() bool {
	return !slices.ContainsFunc(l.path, func(p pick) bool { return !p.leads || p.at > 0 })
}

// Ask asks a rule in every world and merges what it says.
func Ask(decide func(*World) Said) Reason {
	w := &World{}
	var leaves []leaf
	whole := true
	for {
		said := decide(w)
		if said.Outcome != OK && said.Outcome != Reduced && said.Outcome != Refused {
			panic(fmt.Sprintf("a rule decided %v: in one world there is ok, reduced or refused", said.Outcome))
		}
		leaves = append(leaves, leaf{slices.Clone(w.path[:w.n]), said})
		if !w.next() {
			break
		}
		if len(leaves) == mostWorlds {
			whole = false
			break
		}
	}
	r := merge(leaves, whole)
	if len(w.more) > 0 && r.Outcome.Runs() { // the ends agree, and nobody looked between them
		r.Outcome, r.Depends = Likely, w.more
	}
	r.Inferred = w.inferred
	return r
}

// merge sums up what a rule said of its worlds. The first leaf has the first
// value of everything.
func merge(leaves []leaf, whole bool) Reason {
	first := leaves[0]
	worst, best := first, first
	for _, l := range leaves {
		if l.said.Outcome > worst.said.Outcome {
			worst = l
		}
		if l.said.Outcome < best.said.Outcome {
			best = l
		}
	}
	reason := func(o Outcome, s Said) Reason { return Reason{Outcome: o, Says: s.Says, Source: s.Source} }
	switch {
	case best.said.Outcome == Refused && whole:
		return reason(Refused, first.said)
	case worst.said.Outcome != Refused && whole:
		// It runs in every world. What it costs is what it costs as the evidence
		// leans, or at worst where it leans to nothing.
		if first.leads() {
			return reason(first.said.Outcome, first.said)
		}
		return reason(worst.said.Outcome, worst.said)
	}
	broken := worst.said
	if first.leads() && first.said.Outcome != Refused {
		r := reason(Likely, first.said)
		if broken.Outcome == Refused {
			r.Says = broken.Says
		}
		r.Source = broken.Source
		r.Depends = blamed(leaves, broken.Says)
		return r
	}
	r := reason(Unproven, broken)
	if first.leads() {
		r = reason(Unlikely, first.said)
	}
	r.Depends = blamed(leaves, broken.Says)
	return r
}

// blamed lists the facts that tell worlds where the rule is met from those where
// it is broken: each for which two worlds differ in it, and in what was said,
// while all that was asked before is alike.
func blamed(leaves []leaf, otherwise string) (out []Dependence) {
	for i, a := range leaves {
		for _, b := range leaves[i+1:] {
			n := 0
			for n < len(a.path) && n < len(b.path) && a.path[n].at == b.path[n].at {
				n++
			}
			if n >= len(a.path) || n >= len(b.path) || (a.said.Outcome == Refused) == (b.said.Outcome == Refused) {
				continue
			}
			p := a.path[n]
			if !slices.ContainsFunc(out, func(d Dependence) bool { return d.Fact == p.fact }) {
				out = append(out, Dependence{Key: p.key, Fact: p.fact, Leans: p.leans, Else: otherwise, Look: p.look})
			}
		}
	}
	return out
}
