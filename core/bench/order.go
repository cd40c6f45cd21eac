package bench

import (
	"errors"
	"strconv"
	"strings"

	"epitome/core/docket"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/recheck"
	"epitome/core/rule"
	"epitome/core/stock"
)

// What commands ask for and get goes by these names.
type (
	// A Goal is what an upgrade is to reach.
	Goal = propose.Goal
	// A Result is all proposals, best first.
	Result = propose.Result
	// A Proposal is one way to upgrade.
	Proposal = propose.Proposal
	// A Verdict is what a trial comes to.
	Verdict = rule.Verdict
	// A Way is one proposal as a plan keeps it.
	Way = docket.Way
	// A Plan is the proposals that were kept.
	Plan = docket.Plan
	// A ListSum is a price list that a plan rests on.
	ListSum = docket.List
	// A Slip is what the customer, the shop and the bench go by.
	Slip = docket.Docket
	// A SlipOrder is what a slip is made of.
	SlipOrder = docket.Input
	// A Comparison is prediction held against fact.
	Comparison = recheck.Result
	// A Policy sizes machines by what they are used for.
	Policy = need.Policy
	// A Scale is what is weighed beside the price.
	Scale = propose.Scale
	// Use is something that the user does with the machine.
	Use = need.Use
	// Needed is how much memory a user needs.
	Needed = need.Answer
	// Measured is what a series comes to.
	Measured = need.Summary
)

// Why there are no proposals, and why a kept one can't be used.
var (
	ErrBeyond  = propose.ErrBeyond
	ErrReached = propose.ErrReached
	ErrStopped = propose.ErrStopped
	ErrGoal    = propose.ErrGoal
	ErrPlan    = docket.ErrPlan
)

// Refuses reports whether a verdict is the machine's "no", for certain or likely.
func Refuses(v Verdict) bool { return rule.Outcome(v).Against() }

// Open reports whether a verdict can't be told; with strict, also where it is only likely.
func Open(v Verdict, strict bool) bool { return v == rule.CannotTell || strict && v == rule.Leans }

// Wishes are what the buyer wants, as typed.
type Wishes struct {
	Reach, Speed, Spend, TradeIn                                string
	Discard                                                     maybe.Value[int]
	Keep, Cheapest, Pairs, OneKit, OnlyNew, InStock, Everything bool
}

// WantsPrices is the flag that means nothing without a price list, "" where none was typed.
func (w Wishes) WantsPrices() string {
	switch {
	case w.Spend != "":
		return "--spend"
	case w.TradeIn != "":
		return "--trade-in"
	case w.OnlyNew:
		return "--only-new"
	case w.InStock:
		return "--in-stock"
	}
	return ""
}

// Goal reads the wishes. currency is the one that the amounts name; empty where they name
// none. The error is an InputError.
func (w Wishes) Goal() (g Goal, currency string, err error) {
	g = Goal{OneKit: w.OneKit, OnlyNew: w.OnlyNew, InStock: w.InStock, Everything: w.Everything, Cheapest: w.Cheapest,
		Pairs: w.Pairs}
	g.Most, g.Fastest = isMost(w.Reach), isMost(w.Speed)
	if w.Speed != "" && !g.Fastest {
		rate, ok := rateOf(w.Speed)
		if !ok {
			return g, "", input("--speed %q is not a speed; write it in MT/s, for example 2933, or max", w.Speed)
		}
		g.Rate = maybe.Just(rate)
	}
	if w.Reach != "" && !g.Most {
		size, err := jedec.ParseCapacity(w.Reach)
		if err != nil || size == 0 {
			return g, "", input("--reach %q is not a memory size; write a number with MB or GB, as in 16GB, or max", w.Reach)
		}
		g.Reach = maybe.Just(size)
	}
	for _, x := range []struct {
		text, flag string
		into       func(stock.Money)
	}{{w.Spend, "--spend", func(m stock.Money) { g.Spend = maybe.Just(m) }},
		{w.TradeIn, "--trade-in", func(m stock.Money) { g.TradeIn = m }}} {
		if x.text == "" {
			continue
		}
		m, code, err := stock.ParseMoney(x.text)
		if err != nil || m < 0 {
			return g, "", input("%s %q is no amount of money; write it as 60 or 61.90", x.flag, x.text)
		}
		if code != "" && currency == "" {
			currency = code
		}
		x.into(m)
	}
	if n, ok := w.Discard.Get(); ok && n < 0 {
		return g, "", input("--discard-at-most %d: a number of modules is wanted, 0 or more", n)
	}
	g.Discard = w.Discard
	if w.Keep {
		if n := g.Discard.Or(0); n > 0 {
			return g, "", input("--keep takes nothing out, --discard-at-most %d something; give one of them", n)
		}
		g.Discard = maybe.Just(0)
	}
	return g, currency, nil
}

// isMost reports whether the most is asked for in place of a figure.
func isMost(text string) bool { return strings.EqualFold(strings.TrimSpace(text), "max") }

// rateOf reads a speed as technicians write it: "2933", "2933 MT/s", "DDR4-2933", "PC4-23400".
func rateOf(text string) (jedec.Rate, bool) {
	if grade, _, err := jedec.ParseGrade(text); err == nil {
		return grade.Rate, true
	}
	bare := strings.ToUpper(strings.ReplaceAll(text, " ", ""))
	bare = strings.TrimSuffix(strings.TrimSuffix(bare, "MT/S"), "MHZ")
	if before, after, ok := strings.Cut(bare, "-"); ok && strings.HasPrefix(before, "DDR") {
		bare = after // of a profile, which is no grade of the standard
	}
	n, err := strconv.Atoi(bare)
	return jedec.Rate(n), err == nil && n > 0 && n <= 20_000
}

// Toward sets the goal to what the uses need, where it names no size, and says what that
// is; ok is false where it did not.
func (b *Bench) Toward(g *Goal, p Policy, uses []Use) (size jedec.Capacity, ok bool) {
	size, ok = b.Wanted(p, uses).Get()
	if !ok || g.Reach.Known() || g.Most {
		return 0, false
	}
	g.Reach = maybe.Just(size)
	return size, true
}

// BuiltInPolicy is the sizing policy that comes with the program, with its text.
func BuiltInPolicy() (Policy, []byte) { return need.BuiltIn(), need.BuiltInText() }

// BuiltInScale is what is weighed beside the price, as it comes with the program, with its text.
func BuiltInScale() (Scale, []byte) { return propose.BuiltInScale() }

// ParseScale reads a workshop's own weights.
func ParseScale(text []byte) (Scale, error) { return propose.ParseScale(text) }

// Weighed is a goal's own scale.
func Weighed(s Scale) maybe.Value[Scale] { return maybe.Just(s) }

// ParsePolicy reads a workshop's own sizing policy.
func ParsePolicy(text []byte) (Policy, error) { return need.ParsePolicy(text) }

// NeedFor answers how much memory the user needs, by uses and by what was measured on the
// card. system and bits are empty and 0 for the machine's own.
func (b *Bench) NeedFor(p Policy, uses []Use, system string, bits int) (Needed, maybe.Value[Measured]) {
	q := need.Question{System: system, Bits: bits, Uses: uses}
	if series, _ := b.Series(); len(series) > 0 {
		q.Summary = maybe.Just(p.Summarise(series))
	}
	return b.Need(p, q), q.Summary
}

// Sum is the sum of a price list that a plan rests on, by the list's name.
func Sum(p Plan, name string) (sum string, ok bool) {
	for _, l := range p.Lists {
		if l.Name == name {
			return l.SHA256, true
		}
	}
	return "", false
}

// Ended is how a search or a visit ended that may have found nothing.
type Ended int

// The ends.
const (
	Found    Ended = iota
	OutOf          // nothing meets the goal
	Stopped        // it was stopped before it found anything
	CantTell       // a fact is missing
)

// EndOf is how a search ended, by its error and by what it proved.
func EndOf(r Result, err error) Ended {
	switch {
	case errors.Is(err, propose.ErrBeyond):
		return OutOf
	case errors.Is(err, propose.ErrReached):
		return Found
	case errors.Is(err, propose.ErrStopped):
		return Stopped
	case err != nil, len(r.Proposals) == 0:
		return CantTell
	}
	return Found
}

// End is how the visit ended: by what there is to choose, the first choice first.
func (v Visit) End() Ended {
	switch {
	case v.Done():
		return Found
	case errors.Is(v.Nothing, propose.ErrBeyond):
		return OutOf
	case errors.Is(v.Nothing, propose.ErrStopped):
		return Stopped
	case len(v.Choices) == 0:
		return CantTell
	}
	q, err := Find(v.Proposals, v.Choices[0].Number)
	if err == nil && q.Trial.Verdict > rule.Leans {
		return CantTell
	}
	return Found
}

// Count is a number that was given.
func Count(n int) maybe.Value[int] { return maybe.Just(n) }
