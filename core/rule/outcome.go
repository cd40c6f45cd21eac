// Package rule asks rules about a set of modules in every way that the evidence
// leaves open, and sums up what they come to.
//
// A rule is written for one world, in which everything that it needs is known:
// it never sees an unknown. What is open it asks of the world (Choose), naming
// the values that it may have; the engine goes through the worlds that those
// values make, and merges what the rule said in each. A rule that says yes in
// all of them is met, one that says no in all is broken; where the worlds
// differ, the leading one decides between likely and unproven, and the facts on
// which it depends are named with the look that tells.
package rule

// An Outcome is what one rule comes to, worst last. The zero outcome is invalid:
// a verdict that nobody gave is none.
type Outcome uint8

// The outcomes.
const (
	Unasked  Outcome = iota
	OK               // in every world
	Reduced          // it runs, with a penalty that is named
	Likely           // it runs as the evidence leans; what would break it is named
	Unproven         // a fact is missing, which is named
	Unlikely         // it does not run as the evidence leans; what would allow it is named
	Refused          // in no world
)

var outcomeWords = [...]string{"unasked", "ok", "reduced", "likely", "unproven", "unlikely", "refused"}

// String returns the word that text and JSON show for a reason.
func (o Outcome) String() string { return outcomeWords[min(o, Refused)] }

// MarshalText returns the same word.
func (o Outcome) MarshalText() ([]byte, error) { return []byte(o.String()), nil }

// Runs reports whether the modules run for certain.
func (o Outcome) Runs() bool { return o == OK || o == Reduced }

// Classed is the outcome by what it is worth: what a penalty costs shows in other figures.
func (o Outcome) Classed() Outcome {
	if o.Runs() {
		return OK
	}
	return o
}

// Against reports whether it is a no to act on: in no world, or not as the evidence leans.
func (o Outcome) Against() bool { return o >= Unlikely }

// A Verdict is what a whole trial comes to: the worst of the outcomes.
type Verdict Outcome

// The verdicts.
const (
	Works      = Verdict(OK)
	RunsLess   = Verdict(Reduced)
	Leans      = Verdict(Likely)
	CannotTell = Verdict(Unproven)
	LeansNo    = Verdict(Unlikely)
	No         = Verdict(Refused)
)

// String returns the word that text and JSON show.
func (v Verdict) String() string {
	if v == Works {
		return "works"
	}
	return Outcome(v).String()
}

// MarshalText returns the same word.
func (v Verdict) MarshalText() ([]byte, error) { return []byte(v.String()), nil }

// A Reason is what one rule says of a trial.
type Reason struct {
	Rule    string
	Outcome Outcome
	Says    string
	Source  string // of the rule, or of the limit that decided
	// Depends are the facts on which a likely, unproven or unlikely outcome rests.
	Depends []Dependence
	// Inferred are the inferences that it rests on, by id.
	Inferred []string
}

// A Dependence is an open fact that decides.
type Dependence struct {
	Key   string // the fact's own, as rules ask for it: "attach of DIMM 0"
	Fact  string // in words, "the die density"
	Leans string // the value that the evidence leans to; empty where it leans to none
	Else  string // what comes of it otherwise
	Look  string // the look that tells
}

// Looks are the facts that an open outcome rests on, each with the look that
// tells: "the die density: read its sticker".
func (r Reason) Looks() (out []string) {
	if r.Outcome.Runs() || r.Outcome == Refused {
		return nil
	}
	for _, d := range r.Depends {
		out = append(out, d.Fact+": "+d.Look)
	}
	return out
}

// Sum is the worst of the outcomes, Unasked where there are none.
func Sum(reasons []Reason) Verdict {
	worst := Unasked
	for _, r := range reasons {
		worst = max(worst, r.Outcome)
	}
	return Verdict(worst)
}
