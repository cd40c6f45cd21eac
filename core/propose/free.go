package propose

import (
	"fmt"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/rule"
	"epitome/core/trial"
)

// A Gain is what a machine could do better without buying anything.
type Gain struct {
	Says  string     // "move 8 GB from DIMM_A2 to DIMM_B1"
	Gains string     // "two channels instead of one"
	Rate  jedec.Rate // that the machine runs at then, where that is what is gained
	First bool       // more memory does nothing before it is done
}

// Free returns what a machine could do better free of charge: modules that would do
// better elsewhere, a profile that is not selected, a system that uses less than
// there is.
func Free(m machine.Machine, l ceiling.Limits) (gains []Gain) {
	gains = append(systems(m, l), moved(m, l)...)
	gains = append(gains, beside(m)...)
	now, err := trial.Run(m, l, trial.Plan{})
	if err == nil {
		fast, ok1 := now.WithProfile.Get()
		slow, ok2 := now.Before.Get()
		if ok1 && ok2 && fast.Grade.Rate > slow.Grade.Rate {
			gains = append(gains, Gain{Says: "select the modules' profile in the firmware's menus",
				Gains: fmt.Sprintf("%v instead of %v", fast.Grade.Rate, slow.Grade.Rate), Rate: fast.Grade.Rate})
		}
	}
	for _, p := range m.Places {
		if p.State == machine.Disabled && p.Module != nil {
			gain := "a module that is there already"
			if size, ok := p.Module.Capacity.Get(); ok {
				gain = size.String() + " that are there already"
			}
			gains = append(gains, Gain{Gains: gain, Says: fmt.Sprintf("take the module in %s out, clean its contacts and press "+
				"it in again, or enable it in the firmware's menus: it is there and not used", p.Name)})
		}
	}
	return gains
}

// systems finds an operating system that uses less than there is: buying memory does nothing before it is another.
func systems(m machine.Machine, l ceiling.Limits) (gains []Gain) {
	have, ok := m.Totals.Installed.Get()
	if !ok {
		return nil
	}
	for _, c := range l.On(ceiling.OSCapacity) {
		if most, limited := c.Most.Get(); limited && c.Standing == fact.Settled && most.Capacity() < have {
			return []Gain{{Says: "install a system that uses more: " + c.Says, First: true,
				Gains: fmt.Sprintf("%v instead of %v", have, most)}}
		}
	}
	if name, known := m.OS.Get(); known && m.Totals.EndsBelow4GB() && !strings.Contains(name, "64") {
		seen := m.Totals.Visible.Or(0)
		return []Gain{{Says: fmt.Sprintf("install a 64-bit system: %s sees %v of %v, as a 32-bit system does", name, seen,
			have), First: true, Gains: fmt.Sprintf("%v instead of %v", have, seen)}}
	}
	return nil
}

// beside finds processors that have sockets and no module of their own: all that they use
// comes across from another.
func beside(m machine.Machine) (gains []Gain) {
	if m.Processors.Or(1) < 2 {
		return nil
	}
	all := m.Populations()
	for _, one := range all {
		for _, other := range all {
			if one.Filled == 0 && other.Filled > 1 && len(gains) == 0 {
				says := fmt.Sprintf("move half of the modules of processor %d to the sockets of processor %d, which has none",
					other.Processor, one.Processor)
				gains = append(gains, Gain{Says: says, Gains: "memory beside each processor instead of across"})
			}
		}
	}
	return gains
}

// moved tries the fitted modules in other sockets.
func moved(m machine.Machine, l ceiling.Limits) []Gain {
	var plan trial.Plan
	for _, seat := range trial.Fitted(m) {
		if !seat.Soldered {
			plan.Moved = append(plan.Moved, trial.Put{Place: seat.Place, Stick: seat.Stick})
		}
	}
	if len(plan.Moved) == 0 {
		return nil
	}
	t, err := trial.Run(m, l, plan)
	before, ok1 := t.Before.Get()
	after, ok2 := t.Operating.Get()
	if err != nil || !ok1 || !ok2 || !rule.Outcome(t.Verdict).Runs() {
		return nil
	}
	var better []string
	if a, b := widest(before), widest(after); b > a {
		better = append(better, fmt.Sprintf("%s channels instead of %s", numbers[min(b, len(numbers)-1)],
			numbers[min(a, len(numbers)-1)]))
	} else if after.Interleaved > before.Interleaved {
		better = append(better, fmt.Sprintf("%v over both channels together instead of %v", after.Interleaved,
			before.Interleaved))
	}
	if after.Grade.Rate > before.Grade.Rate {
		better = append(better, fmt.Sprintf("%v instead of %v", after.Grade.Rate, before.Grade.Rate))
	}
	if len(better) == 0 {
		return nil
	}
	var moves []string
	for _, seat := range t.Seats {
		if seat.From != "" && seat.From != seat.Place {
			moves = append(moves, fmt.Sprintf("%v from %s to %s", seat.Stick.Capacity.Or(0), seat.From, seat.Place))
		}
	}
	if len(moves) == 0 {
		return nil
	}
	g := Gain{Says: "move " + strings.Join(moves, ", "), Gains: strings.Join(better, ", ")}
	if after.Grade.Rate > before.Grade.Rate {
		g.Rate = after.Grade.Rate
	}
	return []Gain{g}
}

// widest is the most channels that a part of memory is spread over.
func widest(p trial.Point) int {
	if len(p.Layers) == 0 {
		return 1
	}
	return p.Layers[0].Channels
}

var numbers = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "many"}
