package propose

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

func known[T any](v T) machine.Finding[T] {
	return machine.Finding[T]{Value: maybe.Just(v), Standing: machine.Settled}
}

// tower is a machine of DDR4 DIMM sockets that hold the given sizes; 0 is a
// free one.
func tower(maximum jedec.Capacity, sizes ...jedec.Capacity) machine.Machine {
	var m machine.Machine
	var installed jedec.Capacity
	for i, size := range sizes {
		p := machine.Place{Name: fmt.Sprintf("DIMM %d", i+1), Attach: known(machine.Socket), Form: known(jedec.DIMM), Filled: known(size > 0)}
		if size > 0 {
			p.Module = &machine.Module{Generation: known(jedec.DDR4), Form: known(jedec.DIMM), Capacity: known(size), Rated: known(jedec.Rate(2400))}
		}
		installed += size
		m.Places = append(m.Places, p)
	}
	m.Totals.Installed, m.Totals.StatedMaximum = known(installed), known(maximum)
	return m
}

const g = jedec.GiB

func TestAFreeSocketIsFilledWithItsNeighboursTwin(t *testing.T) {
	r, err := Search(tower(32*g, 8*g, 0), Goal{16 * g})
	require.NoError(t, err)
	best := r.Proposals[0]
	assert.Equal(t, "8 GB DDR4-2400 DIMM", best.Buy.String())
	assert.Equal(t, []Move{{"DIMM 1", "8 GB DDR4-2400 DIMM"}}, best.Keeps)
	assert.Equal(t, []Move{{"DIMM 2", "8 GB DDR4-2400 DIMM"}}, best.Adds)
	assert.Contains(t, best.Picks, "least to buy")
	assert.False(t, best.Uneven)
	assert.NotEmpty(t, r.Missing, "nothing is proved while the controller's limits are not asked for")
}

// Every proposal keeps to the sockets, the goal and the maximum, over many
// machines, and none is beaten by another.
func TestNoProposalBreaksALimit(t *testing.T) {
	sizes := []jedec.Capacity{0, 4 * g, 8 * g, 16 * g}
	tried := 0
	for n := range 256 {
		m := tower(64*g, sizes[n%4], sizes[n/4%4], sizes[n/16%4], sizes[n/64%4])
		if !m.Places[0].Filled.Or(false) && !m.Places[1].Filled.Or(false) && !m.Places[2].Filled.Or(false) && !m.Places[3].Filled.Or(false) {
			continue
		}
		for _, reach := range []jedec.Capacity{20 * g, 48 * g, 64 * g} {
			r, err := Search(m, Goal{reach})
			if err != nil {
				require.ErrorIs(t, err, ErrReached)
				continue
			}
			tried++
			for i, p := range r.Proposals {
				seen := make(map[string]bool)
				var total jedec.Capacity
				for _, move := range append(append([]Move{}, p.Keeps...), p.Adds...) {
					require.False(t, seen[move.Place], "two modules in %s", move.Place)
					seen[move.Place] = true
				}
				for _, move := range p.Keeps {
					for _, place := range m.Places {
						if place.Name == move.Place {
							total += place.Module.Capacity.Or(0)
						}
					}
				}
				total += p.Buy.Capacity * jedec.Capacity(p.Quantity)
				require.Equal(t, total, p.Total)
				require.GreaterOrEqual(t, p.Total, reach)
				require.LessOrEqual(t, p.Total, 64*g)
				require.Equal(t, 4-len(p.Keeps)-len(p.Adds), p.SocketsFree)
				for j, q := range r.Proposals {
					require.False(t, i != j && q.beats(p) && !p.beats(q), "%+v beats %+v", q, p)
				}
			}
		}
	}
	assert.Greater(t, tried, 500)
}

func TestWhatStandsInTheWayIsSaid(t *testing.T) {
	m := tower(32*g, 8*g, 8*g)
	_, err := Search(m, Goal{64 * g})
	require.ErrorIs(t, err, ErrBeyond)
	assert.Contains(t, err.Error(), "firmware states a maximum of 32 GB, 64 GB are asked for")

	m = tower(512*g, 8*g, 8*g)
	_, err = Search(m, Goal{128 * g})
	require.ErrorIs(t, err, ErrBeyond)
	assert.Contains(t, err.Error(), "2 sockets with at most 32 GB each")

	_, err = Search(tower(32*g, 8*g, 8*g), Goal{16 * g})
	require.ErrorIs(t, err, ErrReached)

	_, err = Search(machine.Machine{}, Goal{16 * g})
	require.ErrorIs(t, err, ErrUnknown)

	_, err = Search(tower(32*g, 0, 0), Goal{16 * g})
	require.ErrorIs(t, err, ErrUnknown)
	assert.Contains(t, err.Error(), "the generation is not known")

	m = tower(32*g, 8*g, 0)
	m.Places[1].Attach = machine.Finding[machine.Attach]{Standing: machine.Disputed}
	_, err = Search(m, Goal{16 * g})
	require.ErrorIs(t, err, ErrUnknown)
	assert.Contains(t, err.Error(), "whether DIMM 2 is a socket is not known")

	m = tower(32*g, 8*g, 8*g)
	m.Places[1].Module.Generation = known(jedec.DDR5)
	_, err = Search(m, Goal{32 * g})
	require.ErrorIs(t, err, ErrUnknown, "two generations on one board can't both be right")
}

func TestSolderedMemoryStaysAndCounts(t *testing.T) {
	m := tower(16*g, 4*g, 0)
	m.Places[0].Attach = known(machine.Soldered)
	r, err := Search(m, Goal{12 * g})
	require.NoError(t, err)
	assert.Equal(t, 8*g, r.Proposals[0].Buy.Capacity)
	assert.Equal(t, 12*g, r.Proposals[0].Total)
	for _, p := range r.Proposals {
		assert.Empty(t, p.Removes, "soldered chips are never taken out")
		assert.Empty(t, p.Keeps, "and need no keeping")
	}
}

func TestNoStatedMaximumIsNamedAsMissing(t *testing.T) {
	m := tower(0, 8*g, 0)
	m.Totals.StatedMaximum = machine.Finding[jedec.Capacity]{}
	r, err := Search(m, Goal{16 * g})
	require.NoError(t, err)
	assert.Contains(t, r.Missing, "the machine's maximum (firmware does not state one)")
}
