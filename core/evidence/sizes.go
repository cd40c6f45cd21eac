package evidence

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/plain"
)

// mostShared is how many modules a sum is shared out among: of more there are too many ways.
const mostShared = 8

// shareSizes gives the modules whose size no reading tells their share of a sum that one does, where only modules of
// one size come to it: 8 GB in two sockets are two of 4 GB, 16 GB in one is one of 16. 12 GB in two are 8 and 4, and
// which is where nobody knows.
func shareSizes(m *machine.Machine) {
	left, known := m.Totals.Installed.Get()
	var open []*machine.Place
	for i := range m.Places {
		p := &m.Places[i]
		switch {
		case p.Module == nil || p.State == machine.NotMemory:
			known = known && p.Filled.Known()
		case p.Module.Capacity.Standing() == fact.Unknown && p.Attach.Or("") == machine.Socket:
			open = append(open, p)
		case !p.Module.Capacity.Known():
			return
		default:
			left -= min(left, p.Module.Capacity.Or(0))
		}
	}
	sizes := jedec.ModuleSizes(m.Generation.Or(jedec.GenerationUnknown))
	if !known || len(open) == 0 || len(open) > mostShared {
		return
	}
	ways, each := shares(sizes, left, len(open))
	if ways != 1 || each == 0 {
		return
	}
	says := fmt.Sprintf("%v in %s: only modules of %v come to that", left, plain.Count(len(open), "module"), each)
	for _, p := range open {
		p.Module.Capacity = fact.Of(each, fact.Leaning, fact.Support{Source: m.Totals.Installed.Why()[0].Source, Says: says})
	}
}

// shares counts the ways in which so many modules of those sizes, smallest first, come to a sum; each is the size of
// all of them in the way that has one, else 0.
func shares(sizes []jedec.Capacity, sum jedec.Capacity, modules int) (ways int, each jedec.Capacity) {
	if modules == 0 {
		return map[bool]int{true: 1}[sum == 0], 0
	}
	for i, size := range sizes {
		n := jedec.Capacity(modules)
		if size*n > sum {
			break
		}
		if size*n == sum {
			ways, each = ways+1, size
			break // what is left is larger
		}
		more, _ := shares(sizes[i:], sum-size, modules-1)
		ways += more
	}
	return ways, each
}
