package trial

import (
	"cmp"
	"fmt"
	"slices"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
)

// A Mixed is what comes of modules side by side, machine aside.
type Mixed struct {
	Verdict   rule.Verdict
	Operating maybe.Value[Point]
	Why       string // why there is no operating point
	Worst     maybe.Value[Point]
	Reasons   []rule.Reason
	Groups    []Group // usable sets, the largest first; one where all belong together
	Unsorted  []int   // sticks that say too little to be sorted
}

// A Group is a set of sticks that belong together.
type Group struct {
	Sticks    []int // indices into what was given
	Names     string
	Total     jedec.Capacity
	Verdict   rule.Verdict
	Operating maybe.Value[Point]
}

// Mix tries modules side by side. rates are the data rates that a machine
// knows; none means every standard grade.
func Mix(sticks []module.Module, rates []jedec.Rate) Mixed {
	s := beside(sticks, all(len(sticks)), rates)
	m := Mixed{Reasons: s.judge()}
	m.Verdict, m.Why = rule.Sum(m.Reasons), s.why
	if !rule.Outcome(m.Verdict).Against() {
		m.Operating, m.Worst = s.point, s.worst
	}
	m.sort(sticks, rates)
	return m
}

func all(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// beside makes a scene of sticks without a machine. Alike names are numbered.
func beside(sticks []module.Module, which []int, rates []jedec.Rate) *scene {
	s := &scene{rates: rates}
	count := make(map[string]int)
	for _, i := range which {
		count[Describe(sticks[i])]++
	}
	for n, i := range which {
		name := Describe(sticks[i])
		if count[name] > 1 {
			name = fmt.Sprintf("stick %d, %s", n+1, name)
		}
		s.seats = append(s.seats, Seat{Stick: sticks[i], New: true})
		s.names = append(s.names, name)
	}
	return s
}

// A sort key is what must be alike for sticks to share a machine.
type sortKey struct {
	generation jedec.Generation
	form       jedec.Form
	kind       jedec.Kind
}

func (k sortKey) String() string {
	words := fmt.Sprintf("%v %v", k.generation, k.form)
	switch k.kind {
	case jedec.UnbufferedECC:
		words += ", ECC"
	case jedec.RegisteredECC, jedec.LoadReduced, jedec.Multiplexed:
		words += ", " + k.kind.String()
	}
	return words
}

// keyOf reads the key; ok is false where a stick says too little. A module with a clock driver goes beside one without.
func keyOf(s module.Module) (k sortKey, ok bool) {
	var has [2]bool
	k.generation, has[0] = s.Generation.Get()
	k.form, has[1] = s.Form.Get()
	switch k.kind = s.BuiltAs(); k.kind {
	case jedec.Clocked:
		k.kind = jedec.Unbuffered
	case jedec.ClockedECC:
		k.kind = jedec.UnbufferedECC
	}
	return k, has[0] && has[1]
}

// sort deals the sticks into sets that belong together.
func (m *Mixed) sort(sticks []module.Module, rates []jedec.Rate) {
	var keys []sortKey
	sets := make(map[sortKey][]int)
	for i, s := range sticks {
		k, ok := keyOf(s)
		if !ok {
			m.Unsorted = append(m.Unsorted, i)
			continue
		}
		if sets[k] == nil {
			keys = append(keys, k)
		}
		sets[k] = append(sets[k], i)
	}
	for _, k := range keys {
		g := Group{Sticks: sets[k], Names: k.String()}
		s := beside(sticks, g.Sticks, rates)
		g.Verdict, g.Operating = rule.Sum(s.judge()), s.point
		g.Total, _ = s.sum()
		m.Groups = append(m.Groups, g)
	}
	slices.SortStableFunc(m.Groups, func(a, b Group) int {
		return cmp.Or(cmp.Compare(b.Total, a.Total), cmp.Compare(len(b.Sticks), len(a.Sticks)))
	})
}
