package need

import (
	"fmt"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Question is what is known of the user.
type Question struct {
	System    string // name of the operating system; empty where not known
	Bits      int    // 32 or 64; 0 where not known
	Uses      []Use
	Summary   maybe.Value[Summary]        // of what was measured
	Installed maybe.Value[jedec.Capacity] // in the machine now
	Reach     maybe.Value[jedec.Capacity] // that the machine goes to, unknown where nobody can tell
}

// A Part is one thing that takes memory.
type Part struct {
	What string
	Size jedec.Capacity
	Why  string
}

// An Answer is how much memory the user needs, and whether more would help.
type Answer struct {
	Parts       []Part         // what the estimate is made of; empty without uses
	Estimate    jedec.Capacity // their sum with headroom; 0 without uses
	Measured    jedec.Capacity // the measured peak with headroom; 0 where nothing was measured
	Floor       maybe.Value[jedec.Capacity]
	Recommended maybe.Value[jedec.Capacity] // unknown where there is nothing to go by
	Helps       maybe.Value[bool]           // whether more memory than now would help
	Reasons     []string
	Ends        maybe.Value[jedec.Capacity] // where machine or system end below what is needed
	Because     string                      // who ends there: "the machine", "its 32-bit system"
	Customer    string                      // the sentence to say to the customer
	Warnings    []string
}

// Size answers the question by the policy. What was measured outweighs the
// estimate upwards; a comfortable measurement does not lower it, since the
// user may not have done everything while watched.
func (p Policy) Size(q Question) Answer {
	var a Answer
	q.dropForeign(&a)
	p.floor(q, &a)
	p.estimate(q, &a)
	p.measure(q, &a)
	basis := max(a.Estimate, a.Measured, a.Floor.Or(0))
	if s, ok := q.Summary.Get(); a.Estimate == 0 && !(ok && s.Samples > 1 && (s.Verdict == Short || s.Verdict == Tight)) {
		basis = 0 // that it sufficed while watched does not tell how little would
	}
	if basis > 0 {
		size := p.round(basis)
		a.Recommended = maybe.Just(size)
		if size > basis+basis/10 {
			a.Reasons = append(a.Reasons, fmt.Sprintf("%v is rounded up to %v, the next size that modules make", basis, size))
		}
	}
	a.ends(q)
	p.limits(q, &a)
	a.conclude(q)
	return a
}

// dropForeign leaves out a measurement that can't be this machine's: it saw
// more memory than the machine has. What firmware and kernel keep to themselves
// changes by a little from boot to boot; no module is that small.
func (q *Question) dropForeign(a *Answer) {
	s, measured := q.Summary.Get()
	have, known := q.Installed.Get()
	if saw, ok := s.Total.Get(); measured && known && ok && saw > have+max(have/64, 16*jedec.MiB) {
		a.Warnings = append(a.Warnings,
			fmt.Sprintf("the system that was watched has %v, the card's machine %v: another machine was watched, or the card "+
				"is old; the measurement is not used", saw, have))
		q.Summary = maybe.None[Summary]()
	}
}

// floor is the largest stated minimum among the editions that the name can
// mean.
func (p Policy) floor(q Question, a *Answer) {
	for _, s := range catalogue.SystemsNamed(q.System, q.Bits) {
		if least, ok := s.Minimum.Get(); ok && least > a.Floor.Or(0) {
			a.Floor = maybe.Just(least)
		}
	}
}

func (p Policy) system(name string) SystemRule {
	bare := strings.TrimPrefix(strings.TrimSpace(name), "Microsoft ")
	for _, s := range p.Systems {
		if strings.HasPrefix(strings.ToLower(bare), strings.ToLower(s.Name)) {
			return s
		}
	}
	return p.Systems[len(p.Systems)-1]
}

func (p Policy) estimate(q Question, a *Answer) {
	if len(q.Uses) == 0 {
		return
	}
	rule := p.system(q.System)
	what := q.System
	if what == "" {
		what = "the system"
		a.Warnings = append(a.Warnings, "the operating system is not known; give it with --system for a firmer estimate")
	}
	a.Parts = append(a.Parts, Part{what, max(jedec.Capacity(rule.MB)*jedec.MiB, a.Floor.Or(0)), rule.Why})
	for _, u := range q.Uses {
		name := u.Rule.Name
		if u.Count > 1 {
			name = fmt.Sprintf("%s, %d %s", name, u.Count, u.Rule.Counts)
		}
		a.Parts = append(a.Parts, Part{name, u.Size(), u.Rule.Why})
	}
	for _, part := range a.Parts {
		a.Estimate += part.Size
	}
	a.Estimate += a.Estimate * jedec.Capacity(p.Headroom) / 100
	a.Reasons = append(a.Reasons, fmt.Sprintf("the uses named come to %v with %d %% headroom", a.Estimate, p.Headroom))
}

func (p Policy) measure(q Question, a *Answer) {
	s, ok := q.Summary.Get()
	peak, known := s.Peak.Get()
	if ok && known && s.Samples <= 1 {
		a.Reasons = append(a.Reasons,
			fmt.Sprintf("%v were in use at one look, which is no measurement; epitome need --watch 20m is one", peak))
		return
	}
	if !ok || !known || s.Verdict == Unclear {
		return
	}
	a.Measured = peak + peak*jedec.Capacity(p.Headroom)/100
	a.Reasons = append(a.Reasons,
		fmt.Sprintf("at most %v were in use while watched, swap included; with %d %% headroom %v", peak, p.Headroom,
			a.Measured))
	if total, ok := s.Total.Get(); ok && s.Verdict == Short && a.Measured <= total {
		// It was short with what it has: what was pushed out is not in the peak.
		a.Measured = total + 1
		a.Reasons = append(a.Reasons, fmt.Sprintf("it was short with %v, so the next size up is the least that helps", total))
	}
}

// ends finds where the machine or its system end below what is needed.
func (a *Answer) ends(q Question) {
	want, ok := a.Recommended.Get()
	if !ok {
		return
	}
	end := func(size jedec.Capacity, who string) {
		if size < want && size < a.Ends.Or(want) {
			a.Ends, a.Because = maybe.Just(size), who
		}
	}
	if reach, known := q.Reach.Get(); known {
		end(reach, "the machine")
	}
	if q.Bits == 32 {
		end(4*jedec.GiB, "its 32-bit system")
	}
}

// limits warns where the system can't use what is recommended.
func (p Policy) limits(q Question, a *Answer) {
	want, ok := a.Recommended.Get()
	if !ok {
		return
	}
	var most jedec.Capacity
	for _, s := range catalogue.SystemsNamed(q.System, q.Bits) {
		limit, known := s.Most.Get()
		if !known {
			return
		}
		most = max(most, limit)
	}
	if most > 0 && want > most {
		a.Warnings = append(a.Warnings,
			fmt.Sprintf("%s uses at most %v; more wants another edition or a 64-bit system", q.System, most))
	}
	if q.Bits == 32 && want > 4*jedec.GiB {
		a.Warnings = append(a.Warnings, "a 32-bit system sees 3 to 3.5 GB; more wants a 64-bit system first")
	}
}

// conclude says whether more would help, and the sentence for the customer.
func (a *Answer) conclude(q Question) {
	s, measured := q.Summary.Get()
	measured = measured && s.Samples > 1 // one look is no measurement
	want, sized := a.Recommended.Get()
	have, known := q.Installed.Get()
	switch {
	case measured && s.Verdict == Short:
		a.Helps = maybe.Just(true)
	case measured && s.Verdict == Elsewhere && !(sized && known && want > have):
		a.Helps = maybe.Just(false)
	case sized && known:
		a.Helps = maybe.Just(want > have && a.Ends.Or(want) > have)
	case measured && s.Verdict == Comfortable:
		a.Helps = maybe.Just(false)
	}
	helps, decided := a.Helps.Get()
	watched := measured && s.Verdict != Unclear
	switch {
	case !decided:
		a.Customer = "Whether more memory would help can't be said yet."
	case helps && watched && s.Verdict == Short && sized && known && want > have:
		a.Customer = fmt.Sprintf("Your computer ran out of memory while you worked: it has %v, and with %v it would "+
			"stop waiting.", have, want)
	case helps && watched && s.Verdict == Short && sized:
		a.Customer = fmt.Sprintf("Your computer ran out of memory while you worked; with %v it would stop waiting.", want)
	case helps && watched && s.Verdict == Short:
		a.Customer = "Your computer ran out of memory while you worked; how much would do can't be said yet."
	case a.Ends.Known() && known:
		a.Customer = a.endSentence(want, have)
	case helps && known && sized:
		a.Customer = fmt.Sprintf("For what you do your computer wants about %v; it has %v.", want, have)
	case watched && s.Verdict == Elsewhere:
		a.Customer = "Memory is not what slows your computer down; more of it would change nothing. " + elsewhere(s)
	case known && sized:
		a.Customer = fmt.Sprintf("Your computer has %v, which is enough for what you do; more would change nothing.", have)
	default:
		a.Customer = "Your computer has enough memory for what you did; more would change nothing."
	}
}

// endSentence is the customer's where less than what is needed can be had.
func (a *Answer) endSentence(want, have jedec.Capacity) string {
	end := a.Ends.Or(0)
	switch {
	case end <= have && a.Because == "the machine":
		return fmt.Sprintf("For what you do your computer wants about %v; it has %v, and can't take more.", want, have)
	case end <= have:
		return fmt.Sprintf("For what you do your computer wants about %v; it has %v, and %s uses no more than %v: a "+
			"64-bit system comes first.", want, have, a.Because, end)
	case a.Because != "the machine":
		return fmt.Sprintf("For what you do your computer wants about %v; it has %v, and %s uses no more than %v.", want,
			have, a.Because, end)
	}
	return fmt.Sprintf("For what you do your computer wants about %v; it has %v, and goes to %v, which helps but "+
		"is not all.", want, have, end)
}

// elsewhere names what to look at instead.
func elsewhere(s Summary) string {
	if s.DiskStall.Or(0) >= s.CPUStall.Or(0) && s.DiskStall.Or(0) > 0 {
		return "It waits for its disk."
	}
	return "Its processor is busy."
}
