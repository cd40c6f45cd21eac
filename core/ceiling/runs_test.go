package ceiling_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// What ran on a board before is an allowance: it limits nothing, and is shown.
func TestWhatRanOnTheBoardBefore(t *testing.T) {
	r := laptop()
	r.board = "QB-14"
	o, faults := catalogue.ParseOverlay("learned.yaml", []byte(`epitome-catalogue: 1
boards:
  - {maker: Groyne, names: [QB-14], basis: learned, ran: [{total: 64GB, largest_module: 32GB, times: 3,
     when: 2026-11-02}, {total: 16GB}]}
`))
	require.Empty(t, faults)
	l := r.limits(catalogue.Catalogue{}.With(o))
	found := false
	for _, c := range l.On(ceiling.Capacity) {
		if c.Source == ceiling.PastJob {
			found = true
			assert.Equal(t, maybe.Just(ceiling.Bytes(64*jedec.GiB)), c.Most)
			assert.False(t, c.Binding || c.Softer)
			assert.Contains(t, c.Says, "64 GB ran on 3 of this board's machines, last on 2026-11-02 (learned.yaml:3)")
		}
	}
	assert.True(t, found)
}

// The comparison has a row for what somebody speaks of; what one source says several times
// is shown once; a way of filling that changes nothing has no row of its own.
func TestTheRowsOfTheComparison(t *testing.T) {
	l := laptop().limits(catalogue.Catalogue{})
	var what []string
	for _, r := range l.Rows() {
		what = append(what, string(r.What))
		assert.NotEmpty(t, r.Cells, "%v", r.What)
	}
	assert.Equal(t, []string{"capacity", "per_slot", "rate"}, what[:3])
	capacity := l.Rows()[0]
	c, ok := capacity.By(ceiling.Processor)
	require.True(t, ok)
	assert.Equal(t, 32*jedec.GiB, c.Most.Or(ceiling.Amount{}).Capacity())
	assert.True(t, c.Matters())
	_, ok = capacity.By(ceiling.Technician)
	assert.False(t, ok, "nobody wrote a manual's figure down")
	system, ok := capacity.By(ceiling.System)
	require.True(t, ok)
	assert.False(t, system.Binding, "the system uses more than the machine takes")
	assert.Empty(t, ceiling.Limits{}.Rows())
}
