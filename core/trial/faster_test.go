package trial

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/module"
)

// A module that is rated above what it runs at is told what it runs at, what its profile would do, what decides whether
// that can be selected, and the plain grade that does the same.
func TestDoesTheFasterModulePay(t *testing.T) {
	one := desktop().Hand
	free := "machine: {system: Windows 10 Pro 64-bit}\nplaces: [{name: A1, attach: socket}, {name: A2, " +
		"attach: socket}, {name: B1, attach: socket, takes: DIMM}, {name: B2, attach: socket}]\n"
	for what, x := range map[string]struct {
		chipset, stick string
		hand           string
		pays           bool
		plain          jedec.Rate
		slows, with    bool
		not, may       string
	}{
		"a grade above what runs": {"", "8GB 1Rx8 PC4-3200AA-UA2-11", one, true, 2400, false, false, "", ""},
		"the grade that runs":     {"", "8GB 1Rx8 PC4-2400T-UA2-11", one, false, 0, false, false, "", ""},
		"a profile beside a module without": {"profiles: yes", "8GB DDR4-3600 DIMM CL18 XMP", one, true, 2400, true, false,
			"not every module carries a profile", "profiles can be selected"},
		"a profile alone": {"profiles: yes", "8GB DDR4-3600 DIMM CL18 XMP", free, true, 2400, true, true, "",
			"profiles can be selected"},
		"a profile that the chipset forbids": {"profiles: no", "8GB DDR4-3600 DIMM CL18 XMP", free, true, 2400, true, false,
			"profiles can't be selected", "profiles can't be selected"},
		"a profile, and nobody knows": {"", "8GB DDR4-3600 DIMM CL18 XMP", free, true, 2400, true, true,
			"whether profiles can be selected is not known", ""},
	} {
		r := desktop().With(func(r *rig) {
			if r.Chipset, r.Hand = x.chipset, x.hand; x.hand == free {
				r.Places[0] = "A1 A 0 0"
			}
		})
		m, l := r.Machine(t)
		st, err := module.Parse(x.stick)
		require.NoError(t, err)
		plan := Plan{Sticks: []module.Module{st}}
		got, err := Run(m, l, plan)
		require.NoError(t, err, what)
		f, ok := Pays(m, l, plan, got)
		require.Equal(t, x.pays, ok, what)
		if !ok {
			continue
		}
		assert.Equal(t, x.plain, f.Plain.Rate, what)
		assert.Equal(t, x.slows, f.Slows, what)
		assert.Equal(t, x.with, f.With.Known(), what)
		assert.Contains(t, f.Not, x.not, what)
		assert.Contains(t, f.May, x.may, what)
	}
}
