package docket

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/pattern"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A Docket is the slip and the sheet, as values: how it looks is package
// view's.
type Docket struct {
	Heading  []string // the workshop's
	Job      string   // its number, for the code
	Title    string
	Date     string
	Machine  string
	Board    string
	Verdict  rule.Verdict
	Trial    trial.Trial
	Places   []machine.Place
	Items    []Item
	Cost     string // with its currency; empty where no prices are known
	TakeOut  []string
	Fit      []string // steps in order, by slot name
	Handling []string // steps for this kind of machine
	Expect   [][2]string
	Waits    []string // facts that are not proved; where it does not work, what stands in the way
}

// An Item is one thing to buy.
type Item struct {
	Units     int
	What      string
	Order     string   // sku and supplier, as far as known
	Price     string   // of one unit
	Facts     []string // what it must be
	Spellings []string // how shops may write it
	Accept    []Choice
	Avoid     []Choice
}

// A Choice is another module, and what speaks for or against it.
type Choice struct {
	What, Because string
}

// An Input is what a docket is made of.
type Input struct {
	Machine  machine.Machine
	Limits   ceiling.Limits
	Way      Way
	Currency string
	Heading  []string
	Job      string
	Title    string
	Date     string
}

// Make makes a docket. The error is that of the trial, or says which stick
// can't be read.
func Make(in Input) (Docket, error) {
	plan, err := in.Way.Trial()
	if err != nil {
		return Docket{}, err
	}
	t, err := trial.Run(in.Machine, in.Limits, plan)
	if err != nil {
		return Docket{}, err
	}
	d := Docket{Heading: in.Heading, Job: in.Job, Title: in.Title, Date: in.Date, Verdict: t.Verdict, Trial: t,
		Places:  in.Machine.Places,
		Machine: strings.TrimSpace(in.Machine.Maker.Or("") + " " + in.Machine.Model.Or("")), Board: in.Machine.Board.Or("")}
	if d.Machine == "" {
		d.Machine = d.Board
	}
	if d.Machine == "" {
		d.Machine = "a machine without a name"
	}
	d.buy(in)
	d.fit(in)
	d.Handling = handling(in.Machine)
	d.Expect = expected(in.Machine, in.Limits, t)
	for _, r := range t.Reasons {
		if r.Outcome == rule.Refused {
			d.Waits = append(d.Waits, r.Says)
		}
		if t.Verdict == rule.No {
			continue // no look helps
		}
		for _, look := range r.Looks() {
			if !slices.Contains(d.Waits, look) {
				d.Waits = append(d.Waits, look)
			}
		}
	}
	return d, nil
}

// buy makes the buying list.
func (d *Docket) buy(in Input) {
	if in.Way.Cost != "" {
		d.Cost = strings.TrimSpace(in.Way.Cost + " " + in.Currency)
	}
	for _, b := range in.Way.Buys {
		s, err := module.Parse(b.Text)
		if err != nil {
			continue
		}
		s = s.Apart()[0]
		item := Item{Units: b.Units, What: trial.Describe(s), Facts: facts(s), Spellings: spellings(s)}
		if b.Pieces > 1 {
			item.What = fmt.Sprintf("kit of %d × %s", b.Pieces, item.What)
		}
		item.What = strings.TrimSpace(b.State + " " + item.What)
		item.Order = stock.Ordered(b.SKU, b.Supplier, b.Row, b.Text)
		if b.Price != "" {
			item.Price = strings.TrimSpace(b.Price + " " + in.Currency)
		}
		s.Mark = b.Offer
		item.Accept, item.Avoid = d.others(in, s)
		d.Items = append(d.Items, item)
	}
}

// facts are what a module must be, as a shop lists them.
func facts(s module.Module) (out []string) {
	g, known := s.Generation.Get()
	if f, ok := s.Form.Get(); ok && known {
		text := f.String()
		if n, made := g.Contacts(f); made {
			text += fmt.Sprintf(", %d contacts", n)
		}
		out = append(out, text)
	}
	ranks, ok1 := s.Ranks.Get()
	width, ok2 := s.Width.Get()
	if ok1 && ok2 {
		out = append(out, fmt.Sprintf("%dRx%d", ranks, width))
	}
	if t, ok := s.Timing.Get(); ok {
		out = append(out, fmt.Sprintf("CL%v (%v)", t.CL, t))
	} else if cl, ok := s.CL.Get(); ok {
		out = append(out, fmt.Sprintf("CL%v", cl))
	}
	if supplies, ok := s.Supplies.Get(); ok {
		out = append(out, supplies.String())
	}
	if s.Registered.Known() {
		out = append(out, map[bool]string{true: "registered", false: "unbuffered"}[s.Registered.Or(false)])
	}
	if s.ECC.Known() {
		out = append(out, map[bool]string{true: "ECC", false: "non-ECC"}[s.ECC.Or(false)])
	}
	return out
}

// spellings are the ways in which a shop may write the module.
func spellings(s module.Module) (out []string) {
	x, ok := s.Grade().Get()
	if !ok {
		return nil
	}
	if l, ok := s.Label.Get(); ok {
		out = append(out, l.String())
	}
	return append(out, x.Spellings()...)
}

// others tries neighbours of a module in its place: faster and slower ones,
// other layouts, and what looks alike. What runs may be taken instead, what
// does not must be avoided.
func (d *Docket) others(in Input, s module.Module) (accept, avoid []Choice) {
	defer func() { // the workshop's files are nobody's business on a slip
		for _, list := range [][]Choice{accept, avoid} {
			for i := range list {
				list[i].Because = ownFiles().ReplaceAllString(list[i].Because, "")
			}
		}
	}()
	judge := trial.NewJudge(in.Machine, in.Limits)
	own, _ := judge.Alone(s, true)
	g := s.Generation.Or(jedec.GenerationUnknown)
	try := func(what string, change func(*module.Module)) {
		other := s
		other.Label, other.Timing = maybe.None[jedec.Label](), fact.Fact[jedec.Timing]{}
		change(&other)
		outcome, reason := judge.Alone(other, true)
		if outcome.Against() || outcome == rule.Likely && outcome > own { // it may run, and nobody need find out
			avoid = append(avoid, Choice{what, shortly(reason.Says)})
			return
		}
		if outcome > max(own, rule.Reduced) {
			return
		}
		t, err := with(in, s, other)
		if err != nil || t.Verdict > min(max(d.Verdict, rule.RunsLess), rule.Leans) {
			return
		}
		if reason, open := d.opened(t); open {
			avoid = append(avoid, Choice{what, shortly(reason.Says)})
		} else if penalty, known := d.penalty(t); known {
			accept = append(accept, Choice{what, penalty})
		}
	}
	d.speeds(s, try)
	ranks, ok1 := s.Ranks.Get()
	mbit, ok2 := s.Density.Get()
	if ok1 && ok2 && ranks == 1 && mbit >= 1024 {
		try(fmt.Sprintf("the same with two ranks (2Rx%d)", s.Width.Or(8)),
			func(o *module.Module) { o.Ranks, o.Density = fact.Known(2), fact.Known(mbit/2) })
	}
	if ok1 && ok2 && ranks == 2 && slices.Contains(g.Trait().Densities, mbit*2) {
		try(fmt.Sprintf("the same with one rank (1Rx%d), dies of twice the size", s.Width.Or(8)),
			func(o *module.Module) { o.Ranks, o.Density = fact.Known(1), fact.Known(mbit*2) })
	}
	for _, f := range []jedec.Form{jedec.DIMM, jedec.SODIMM} {
		if own, ok := s.Form.Get(); ok && f != own {
			if _, made := g.Contacts(f); made {
				try(fmt.Sprintf("%v %v", g, f), func(o *module.Module) { o.Form = fact.Known(f) })
			}
		}
	}
	if f, ok := s.Form.Get(); ok && f == jedec.DIMM && !s.Registered.Or(false) {
		try("registered modules (RDIMM, LRDIMM)", func(o *module.Module) { o.Registered = fact.Known(true) })
	}
	if !s.ECC.Or(false) {
		try("modules with check bits (ECC)", func(o *module.Module) { o.ECC = fact.Known(true) })
	}
	if g == jedec.DDR3 {
		try("modules for 1.5 V alone (PC3, not PC3L)",
			func(o *module.Module) { o.Supplies = fact.Known(jedec.SuppliesOf(1500)) })
	}
	if top := jedec.Grades(g); g >= jedec.DDR3 && len(top) > 0 {
		avoid = append(avoid, Choice{fmt.Sprintf("%v sold by a speed above %d, or by a supply above the standard's", g,
			int(top[len(top)-1].Rate)), "that speed is an overclocking profile's; what it runs at without is often less"})
	}
	return accept, append(avoid, neighbours(g, s.Form.Or(jedec.FormUnknown))...)
}

// speeds tries the grades beside the module's own.
func (d *Docket) speeds(s module.Module, try func(string, func(*module.Module))) {
	own, ok := s.Grade().Get()
	if !ok {
		return
	}
	grades := jedec.Grades(own.Generation)
	at := slices.IndexFunc(grades, func(x jedec.Grade) bool { return x.Rate == own.Rate })
	for i := min(at+3, len(grades)-1); i >= max(0, at-1); i-- {
		if i == at {
			continue
		}
		x := grades[i]
		try(x.String(), func(o *module.Module) { o.SellBy(x) })
	}
}

// penalty is what a trial with another module costs beside the one with what is bought.
func (d *Docket) penalty(t trial.Trial) (says string, known bool) {
	now, ok1 := d.Trial.Operating.Get()
	then, ok2 := t.Operating.Get()
	switch {
	case !ok1 || !ok2:
		return "", false
	case then.Grade.Rate < now.Grade.Rate:
		return fmt.Sprintf("all memory then runs at %d instead of %d", int(then.Grade.Rate), int(now.Grade.Rate)), true
	case then.Grade.Rate > now.Grade.Rate:
		return fmt.Sprintf("runs at %d instead of %d", int(then.Grade.Rate), int(now.Grade.Rate)), true
	case then.TimesKnown && now.TimesKnown && then.Timing.CL > now.Timing.CL:
		return fmt.Sprintf("same rate, CL%v instead of CL%v", then.Timing.CL, now.Timing.CL), true
	}
	return "no penalty, nothing gained", true
}

// opened is a reason by which a trial with another module waits for what the one with what is bought
// does not: where that one waits for its layout, the other may wait for check bits as well.
func (d *Docket) opened(t trial.Trial) (rule.Reason, bool) {
	worst := make(map[string]rule.Outcome)
	for _, r := range d.Trial.Reasons {
		worst[r.Rule] = max(worst[r.Rule], r.Outcome)
	}
	for _, r := range t.Reasons {
		if !r.Outcome.Runs() && r.Outcome > worst[r.Rule] {
			return r, true
		}
	}
	return rule.Reason{}, false
}

// with tries another module in place of one that is bought.
func with(in Input, s, other module.Module) (trial.Trial, error) {
	plan, err := in.Way.Trial()
	if err != nil {
		return trial.Trial{}, err
	}
	for i := range plan.Put {
		if plan.Put[i].From == "" && plan.Put[i].Stick.Mark == s.Mark && plan.Put[i].Stick.From == s.From {
			plan.Put[i].Stick = other
		}
	}
	return trial.Run(in.Machine, in.Limits, plan)
}

// shortly keeps the first part of a reason.
func shortly(says string) string {
	_, rest, found := strings.Cut(says, ": ")
	if found {
		says = rest
	}
	return says
}

// neighbours are the generations beside one, which do not fit.
func neighbours(g jedec.Generation, f jedec.Form) (out []Choice) {
	for _, other := range jedec.Generations() {
		if other.LowPower() || other == g || other+1 != g && other != g+1 {
			continue
		}
		n, made := other.Contacts(f)
		own, _ := g.Contacts(f)
		if !made {
			continue
		}
		why := fmt.Sprintf("another generation: %d contacts, not %d", n, own)
		if n == own {
			why = fmt.Sprintf("another generation: %d contacts as well, the notch sits elsewhere", n)
		}
		out = append(out, Choice{fmt.Sprintf("%v %v", other, f), why})
	}
	return out
}

// fit lists what comes out and what goes where, in the order in which slots
// are filled.
func (d *Docket) fit(in Input) {
	sticks := make(map[string]string)
	for _, seat := range trial.Fitted(in.Machine) {
		sticks[seat.Place] = trial.Describe(seat.Stick)
	}
	for _, place := range in.Way.Pull {
		d.TakeOut = append(d.TakeOut, fmt.Sprintf("%s out of %s", sticks[place], place))
	}
	order := in.Limits.FittingOrder()
	var seats []trial.Seat
	for _, s := range d.Trial.Seats {
		if s.New || s.From != "" {
			seats = append(seats, s)
		}
	}
	slices.SortStableFunc(seats, func(a, b trial.Seat) int { return turn(order, a.Place) - turn(order, b.Place) })
	seats = d.doable(seats)
	sku := make(map[string]string)
	for _, p := range in.Way.Put {
		sku[p.Place] = p.SKU
	}
	for _, s := range seats {
		step := fmt.Sprintf("%s into %s", trial.Describe(s.Stick), s.Place)
		if sku[s.Place] != "" {
			step += " (" + sku[s.Place] + ")"
		}
		if s.From != "" {
			step += ", moved from " + s.From
		}
		d.Fit = append(d.Fit, step)
	}
}

// doable puts moves before what is new, and each where its place is empty by then. Where
// modules change places in a ring, one of them comes out first.
func (d *Docket) doable(seats []trial.Seat) (steps []trial.Seat) {
	holds := make(map[string]bool) // places that are not empty yet
	var moves, fresh []trial.Seat
	for _, s := range seats {
		if s.From != "" {
			moves, holds[s.From] = append(moves, s), true
		} else {
			fresh = append(fresh, s)
		}
	}
	for len(moves) > 0 {
		at := slices.IndexFunc(moves, func(s trial.Seat) bool { return !holds[s.Place] })
		if at < 0 { // a ring
			at = 0
			d.TakeOut = append(d.TakeOut,
				fmt.Sprintf("%s out of %s, and keep it at hand", trial.Describe(moves[0].Stick), moves[0].From))
			delete(holds, moves[0].From)
			moves = append(moves[1:], moves[0])
			continue
		}
		steps = append(steps, moves[at])
		delete(holds, moves[at].From)
		moves = slices.Delete(moves, at, at+1)
	}
	return append(steps, fresh...)
}

// ownFiles are the places in the workshop's own entries that sentences cite.
var ownFiles = pattern.Of(` \([^()]*\.ya?ml:\d+\)`)

func turn(order map[string]int, place string) int {
	if n, ok := order[place]; ok {
		return n
	}
	return 1 << 10
}

// handling are the steps for a kind of machine.
func handling(m machine.Machine) []string {
	steps := []string{"Shut the machine down fully: not asleep, no fast start. Unplug it."}
	kind := m.Kind.Or("")
	if kind == "" || kind == machine.Other { // the form of its modules tells
		for _, p := range m.Places {
			switch p.Form.Or(jedec.FormUnknown) {
			case jedec.SODIMM:
				kind = machine.Laptop
			case jedec.DIMM:
				kind = machine.Desktop
			}
		}
	}
	if kind == machine.Laptop {
		steps = append(steps,
			"Take the battery off, or unplug it inside first; some machines switch it off in the firmware's menus. Hold the "+
				"power button for ten seconds.",
			"Look for screws under feet, labels and rubber strips. Loosen snaps with a plastic tool, from the hinge side on. "+
				"Never pull against resistance.")
	} else if kind == machine.Desktop || kind == machine.Server {
		steps = append(steps, "Hold the power button for ten seconds. Open the side panel; lay the machine on its side.")
	} else if kind == machine.AllInOne {
		steps = append(steps, "Hold the power button for ten seconds. Lay the machine on its screen, on something soft; "+
			"take off the foot and the cover over the memory, or the back.")
	} else if kind == machine.Mini {
		steps = append(steps, "Hold the power button for ten seconds. Take off the lid, on most under the feet; a drive "+
			"or a fan may lie over the memory.")
	} else {
		steps = append(steps, "Take a battery off or unplug it. Hold the power button for ten seconds. Open the machine "+
			"as its kind is opened, without force.")
	}
	steps = append(steps, "Touch bare metal of the chassis before touching a module, and hold modules by their edges.")
	small := false
	for _, p := range m.Places {
		small = small || p.Form.Or(0) == jedec.SODIMM
	}
	if small {
		steps = append(steps, "Spread the latches to take a module out: it springs up. Put a module in at about 30 "+
			"degrees, notch on key, until the contacts vanish; press it down until both latches snap.")
	} else {
		steps = append(steps, "Open the latches. Set the module upright, notch on key; press both ends down until the "+
			"latches close by themselves.")
	}
	return append(steps, "Start without the cover first. The first start may take minutes and restart by itself: "+
		"memory is being trained.")
}

// proofWords is what a proof is to come to.
func proofWords(t trial.Trial) string {
	const sound = "proved without a fault"
	if ratio := t.Faster().Or(0); ratio > 1 {
		return fmt.Sprintf("%s; up to %.1f times as fast as before", sound, ratio)
	}
	return sound
}

// expected are the figures to check afterwards.
func expected(m machine.Machine, l ceiling.Limits, t trial.Trial) (out [][2]string) {
	add := func(what, figure string) { out = append(out, [2]string{what, figure}) }
	add("Memory fitted", t.Total.String())
	installed, ok1 := m.Totals.Installed.Get()
	visible, ok2 := m.Totals.Visible.Get()
	if ok1 && ok2 && visible <= installed {
		sees := t.Total - (installed - visible)
		if most, limited := l.Bound(ceiling.OSCapacity); limited {
			sees = min(sees, most.Most.Capacity())
		}
		add("Visible to the system", "about "+sees.String())
	}
	if p, ok := t.Operating.Get(); ok {
		add("Data rate", fmt.Sprintf("%v (a clock of %v)", p.Grade.Rate, p.Grade.Clock()))
		if p.TimesKnown {
			words := "CL" + p.Timing.CL.String()
			if p.TRCDKnown {
				words = p.Timing.String()
			}
			add("Timings", words)
		}
		for _, c := range p.Channels {
			add("Channel "+c.Channel, c.Capacity.String())
		}
	}
	add("Sound", proofWords(t))
	return out
}
