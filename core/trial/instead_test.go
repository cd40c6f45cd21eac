package trial

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/rule"
)

// Where no socket is free, sticks are tried in the place of what is fitted: of the smallest, so that the most memory is
// there afterwards, and where sizes are alike where it runs best.
func TestSticksGoInThePlaceOfWhatIsFitted(t *testing.T) {
	full := func(sizes ...string) rig {
		return desktop().With(func(r *rig) {
			r.Places, r.Hand = nil, "machine: {system: Windows 10 Pro 64-bit}\nplaces:\n"
			for i, size := range sizes {
				name := []string{"A1", "A2", "B1", "B2"}[i]
				mib := map[string]string{"4GB": "4096", "8GB": "8192", "0": "0"}[size]
				holds := ""
				if size != "0" {
					holds = ", holds: " + size + " 1Rx8 PC4-2400T-UA2-11"
				}
				r.Places = append(r.Places, name+" "+name[:1]+" "+mib+" 2400")
				r.Hand += "  - {name: " + name + ", attach: socket, takes: DIMM" + holds + "}\n"
			}
		})
	}
	eight, sixteen := "8GB 1Rx8 PC4-2400T-UA2-11", "16GB 2Rx8 PC4-2400T-UB1-11"
	for _, c := range []struct {
		name    string
		in      rig
		sticks  []string
		plan    Plan
		instead string
		total   string
		err     error
	}{
		{name: "a socket is free", in: full("8GB", "0", "0", "0"), sticks: []string{eight}, total: "16 GB"},
		{name: "the smallest comes out", in: full("8GB", "8GB", "4GB", "8GB"), sticks: []string{eight}, instead: "B1",
			total: "32 GB"},
		{name: "two for the two smallest", in: full("8GB", "4GB", "8GB", "4GB"), sticks: []string{eight, eight},
			instead: "A2 B2", total: "32 GB"},
		{name: "one place is free for two", in: full("8GB", "4GB", "8GB", "0"), sticks: []string{sixteen, sixteen},
			instead: "A2", total: "48 GB"},
		{name: "all that there is room for", in: full("4GB", "4GB", "4GB", "4GB"),
			sticks: []string{eight, eight, eight, eight}, instead: "A1 A2 B1 B2", total: "32 GB"},
		{name: "where it was said what comes out", in: full("8GB", "4GB", "8GB", "4GB"), sticks: []string{sixteen},
			plan: Plan{Pull: []string{"A1"}}, total: "32 GB"},
		{name: "more sticks than sockets", in: full("4GB", "4GB", "4GB", "4GB"),
			sticks: []string{eight, eight, eight, eight, eight}, err: ErrNoRoom},
	} {
		m, l := c.in.Machine(t)
		c.plan.Sticks = sticks(t, c.sticks...)
		got, err := Fit(m, l, c.plan)
		if c.err != nil {
			require.ErrorIs(t, err, c.err, c.name)
			assert.ErrorContains(t, err, "5 sticks for 4 sockets")
			continue
		}
		require.NoError(t, err, c.name)
		assert.Equal(t, c.instead, strings.Join(got.Instead, " "), c.name)
		assert.Equal(t, c.total, got.Total.String(), c.name)
		pulled := append(c.plan.Pull, got.Instead...)
		again, err := Run(m, l, Plan{Sticks: c.plan.Sticks, Pull: pulled})
		require.NoError(t, err, c.name)
		assert.Equal(t, again.Verdict, got.Verdict, "as if it had been pulled by hand")
	}
}

// Of a module that runs there and says nothing of a register, the controller's maker decides: where only modules
// without one are taken, it has none. Where registered ones are taken too, it stays open.
func TestWhatRunsThereIsOfAKindThatIsTaken(t *testing.T) {
	for takes, want := range map[string]rule.Outcome{"ecc: none": rule.OK, "ecc: [udimm, rdimm]": rule.Likely} {
		m, l := desktop().With(func(r *rig) { r.Takes = strings.Replace(r.Takes, "ecc: none", takes, 1) }).Machine(t)
		for i := range m.Places {
			if p := &m.Places[i]; p.Module != nil {
				one := *p.Module
				one.Registered, one.ECC, one.Kind = fact.Fact[bool]{}, fact.Fact[bool]{}, "firmware"
				p.Module = &one
			}
		}
		got, err := Run(m, l, Plan{Sticks: sticks(t, label)})
		require.NoError(t, err)
		outcome, says := outcomeOf(got, "buffering")
		assert.Equal(t, want == rule.OK, outcome == rule.OK, "%s: %v, %s", takes, outcome, says)
	}
}
