package prove_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/prove"
)

// clock is a clock that goes on by a microsecond with each look.
func clock() func() time.Time {
	now := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	return func() time.Time {
		now = now.Add(time.Microsecond)
		return now
	}
}

func order(pieces ...int) prove.Order {
	o := prove.Order{Threads: 1, Seed: 7, Now: clock(), Stop: func() bool { return false },
		Press:    func() bool { return false },
		GiveBack: func(int) {}, Shows: func(string, float64) {}}
	for _, n := range pieces {
		o.Memory = append(o.Memory, make([]uint64, n))
	}
	return o
}

// Each bit of each word is written and read back as one and as nought, alone among its
// neighbours and beside them, and no two places hold the same for long.
func TestThePatternsTryEveryBit(t *testing.T) {
	const words = 256
	var ones, noughts [words]uint64
	seen := make(map[[2]uint64]bool)
	for _, p := range prove.Patterns {
		memory := make([]uint64, words)
		for round := range p.Rounds {
			p.Fill(memory, 1000, round, 7)
			for i, v := range memory {
				assert.Equal(t, p.Value(1000+uint64(i), round, 7), v)
				ones[i] |= v
				noughts[i] |= ^v
			}
			p.Check(memory, 1000, round, 7, func(f prove.Fault) bool { t.Errorf("%s: %+v", p.Name, f); return false })
		}
	}
	for i := range words {
		assert.Equal(t, ^uint64(0), ones[i], "word %d", i)
		assert.Equal(t, ^uint64(0), noughts[i], "word %d", i)
		for j := range i {
			a, b := prove.Patterns[0].Value(uint64(i), 0, 0), prove.Patterns[0].Value(uint64(j), 0, 0)
			require.NotEqual(t, a, b, "an address line that is stuck would not be found")
		}
		seen[[2]uint64{ones[i], noughts[i]}] = true
	}
}

// A word that was disturbed is found with its place, its pattern, what was written and read,
// and that it holds when it is tried again.
func TestAFaultIsToldExactly(t *testing.T) {
	for _, p := range prove.Patterns {
		memory := make([]uint64, 128)
		p.Fill(memory, 64, 0, 9)
		memory[17] ^= 1 << 5
		memory[90] ^= 3
		var found []prove.Fault
		p.Check(memory, 64, 0, 9, func(f prove.Fault) bool { found = append(found, f); return true })
		require.Len(t, found, 2, p.Name)
		assert.Equal(t, uint64(64+17)*8, found[0].Offset, p.Name)
		assert.Equal(t, p.Name, found[0].Pattern)
		assert.Equal(t, p.Value(64+17, 0, 9), found[0].Wrote, p.Name)
		assert.Equal(t, 1, found[0].Bits(), p.Name)
		assert.Equal(t, 2, found[1].Bits(), p.Name)
		assert.False(t, found[0].Again, "it was disturbed, and is not broken")
		found = nil
		memory[17], memory[90] = 0, 0
		memory[17] = ^p.Value(64+17, 0, 9)
		p.Check(memory, 64, 0, 9, func(f prove.Fault) bool { found = append(found, f); return false })
		assert.Len(t, found, 1, "%s: it ends where that is wanted", p.Name)
	}
}

func TestAProofOfSoundMemory(t *testing.T) {
	o := order(4096, 4096, 2048)
	o.Threads = 2
	shown := 0
	o.Shows = func(what string, share float64) {
		shown++
		assert.NotEmpty(t, what)
		assert.GreaterOrEqual(t, share, 0.0)
		assert.LessOrEqual(t, share, 1.0)
	}
	r := prove.Run(o)
	assert.True(t, r.Sound())
	assert.Equal(t, 1, r.Passes)
	assert.Equal(t, uint64((4096+4096+2048)*8), r.Covered)
	assert.Equal(t, uint64(7), r.Seed)
	assert.Greater(t, shown, 20)
	for name, f := range map[string]prove.Figure{"read": r.Read, "write": r.Write, "copy": r.Copy,
		"read, one thread": r.ReadOne, "latency": r.Latency} {
		assert.Positive(t, f.Median, name)
	}
}

// Stopped before one pass is whole, it says so and claims no more than it saw.
func TestAStoppedProofClaimsNoMoreThanItSaw(t *testing.T) {
	o := order(1024, 1024, 1024, 1024)
	asked := 0
	o.Stop = func() bool { asked++; return asked > 400 }
	r := prove.Run(o)
	assert.True(t, r.Stopped)
	assert.False(t, r.Sound(), "nothing was proved")
	assert.Zero(t, r.Passes)
	assert.LessOrEqual(t, r.Covered, uint64(4*1024*8))
	assert.Positive(t, r.Read.Median, "what was measured is kept")

	o = order(1024)
	began := o.Now()
	o.Until = began.Add(3 * time.Millisecond)
	r = prove.Run(o)
	assert.Greater(t, r.Passes, 1, "until the time is up")
}

// Where the system runs short, memory is given back, and what is left is proved.
func TestMemoryIsGivenBack(t *testing.T) {
	o := order(1024, 1024, 1024)
	var back []int
	short := 2
	o.Press = func() bool { short--; return short >= 0 }
	o.GiveBack = func(piece int) { back = append(back, piece) }
	r := prove.Run(o)
	assert.Equal(t, []int{2, 1}, back)
	assert.True(t, r.Pressed)
	assert.Equal(t, uint64(1024*8), r.Covered)
	assert.True(t, r.Sound())
}

// A chain goes through all lines once before it comes back.
func TestAChainIsOneRound(t *testing.T) {
	memory := make([]uint64, 64*16)
	steps := prove.Chain(memory, 3)
	require.Equal(t, 64, steps)
	seen := make(map[uint64]bool)
	at := uint64(0)
	for range steps {
		require.False(t, seen[at], "a round that is shorter than the memory stays in the cache")
		seen[at] = true
		at = memory[at]
	}
	assert.Zero(t, at)
	assert.Zero(t, prove.Walk(memory, steps))
	assert.Zero(t, prove.Chain(make([]uint64, 4), 1))
}

func TestTheLoopsDoWhatTheySay(t *testing.T) {
	for n := range 40 {
		memory := make([]uint64, n)
		prove.Write(memory, 3)
		assert.Equal(t, uint64(3*n), prove.Read(memory), n)
		for i := range memory[:n/2] {
			memory[i] = uint64(i)
		}
		prove.Copy(memory)
		assert.Equal(t, memory[:n/2], memory[n/2:n/2*2], n)
	}
}

func TestMediansAndRatios(t *testing.T) {
	assert.Equal(t, prove.Figure{}, prove.Of(nil))
	assert.Equal(t, 5.0, prove.Of([]float64{5}).Median)
	f := prove.Of([]float64{10, 11, 9, 10, 100, 10, 1})
	assert.Equal(t, 10.0, f.Median, "one that stands out does not count")
	assert.InDelta(t, 0.1, f.Spread, 0.06)

	one := prove.Result{Copy: prove.Figure{Median: 8000, Spread: 0.02}, Passes: 1}
	two := prove.Result{Copy: prove.Figure{Median: 14400, Spread: 0.03}, Passes: 1}
	ratio, off, ok := prove.Faster(one, two)
	assert.True(t, ok)
	assert.InDelta(t, 1.8, ratio, 1e-9)
	assert.InDelta(t, 1.8*0.15, off, 1e-9, "two runs differ by more than each of them tells")
	wide := two
	wide.Read.Spread = 0.3
	_, off, _ = prove.Faster(one, wide)
	assert.InDelta(t, 1.8*0.32, off, 1e-9)
	_, _, ok = prove.Faster(one, prove.Result{})
	assert.False(t, ok)
	assert.True(t, one.Steady())
	one.Busy = true
	assert.False(t, one.Steady())
	two.Copy.Spread = 0.4
	assert.False(t, two.Steady())
	for range 100 {
		one.Found(prove.Fault{})
	}
	assert.Len(t, one.Faults, prove.MostFaults)
	assert.Equal(t, 36, one.MoreFaults)
	assert.False(t, one.Sound())
}

// BenchmarkPass is one pass over all patterns, of one thread; the figure is of the memory
// that is proved, not of what is written and read.
func BenchmarkPass(b *testing.B) {
	memory := make([]uint64, 8<<20)
	b.SetBytes(int64(len(memory) * prove.Word))
	for b.Loop() {
		for _, p := range prove.Patterns {
			for round := range p.Rounds {
				p.Fill(memory, 0, round, 7)
				p.Check(memory, 0, round, 7, func(prove.Fault) bool { b.Fatal("a fault"); return false })
			}
		}
	}
}

// Memory that is broken in a way: what it does to words that were written, before they are
// read back. Each way that the patterns claim to find is found by one of them at least.
func TestEveryWayOfBreakingIsFound(t *testing.T) {
	const words = 512
	bit := func(n int) uint64 { return 1 << n }
	for name, breaks := range map[string]func(memory []uint64){
		"a bit stuck at nought":    func(m []uint64) { m[77] &^= bit(13) },
		"a bit stuck at one":       func(m []uint64) { m[77] |= bit(63) },
		"a whole word that is one": func(m []uint64) { m[200] = ^uint64(0) },
		"a data line stuck": func(m []uint64) {
			for i := range m {
				m[i] &^= bit(31)
			}
		},
		"an address line that does nothing": func(m []uint64) {
			for i := range m {
				if i&64 != 0 {
					m[i] = m[i&^64]
				}
			}
		},
		"two address lines that are tied": func(m []uint64) {
			was := append([]uint64(nil), m...)
			for i := range m {
				a, b := i>>3&1, i>>5&1
				if a != b {
					m[i] = was[i|1<<3|1<<5]
				}
			}
		},
		"a cell that follows its neighbour": func(m []uint64) { m[78] = m[78]&^bit(5) | m[77]&bit(5) },
		"a cell that is pulled down by a one beside it": func(m []uint64) {
			if m[77]&bit(6) != 0 {
				m[77] &^= bit(5)
			}
		},
		"a cell that is pulled up by a nought beside it": func(m []uint64) {
			if m[77]&bit(4) == 0 {
				m[77] |= bit(5)
			}
		},
		"two bits of a word that are joined": func(m []uint64) {
			if m[300]&bit(2) != 0 || m[300]&bit(40) != 0 {
				m[300] |= bit(2) | bit(40)
			}
		},
		"a half of the bus that is swapped": func(m []uint64) {
			for i := range m {
				m[i] = m[i]<<32 | m[i]>>32
			}
		},
	} {
		memory := make([]uint64, words)
		found := make(map[string]int)
		for _, p := range prove.Patterns {
			for round := range p.Rounds {
				p.Fill(memory, 0, round, 7)
				breaks(memory)
				p.Check(memory, 0, round, 7, func(f prove.Fault) bool { found[f.Pattern]++; return true })
			}
		}
		assert.NotEmpty(t, found, name)
	}
}

// A cell that holds nothing fails again when it is tried once more: a page that may be read
// and not written stands for one.
func TestAWordThatFailsAgainIsTold(t *testing.T) {
	p := prove.Patterns[0]
	memory := make([]uint64, 8)
	p.Fill(memory, 0, 0, 0)
	memory[3] = 99
	again := []bool{}
	p.Check(memory, 0, 0, 0, func(f prove.Fault) bool { again = append(again, f.Again); return true })
	assert.Equal(t, []bool{false}, again)
	assert.Equal(t, uint64(3), memory[3], "what was tried once more holds the pattern again")
}

// Each pattern: its name, how many fillings it has, and what the first words of each hold.
func TestWhatEachPatternHolds(t *testing.T) {
	holds := map[string]func(i uint64, round int) uint64{
		"address":            func(i uint64, _ int) uint64 { return i },
		"address complement": func(i uint64, _ int) uint64 { return ^i },
		"checkerboard": func(i uint64, round int) uint64 {
			return []uint64{0xAAAA_AAAA_AAAA_AAAA, 0x5555_5555_5555_5555}[(i+uint64(round))%2]
		},
		"walking ones":  func(i uint64, round int) uint64 { return 1 << ((i + 8*uint64(round)) % 64) },
		"walking zeros": func(i uint64, round int) uint64 { return ^(uint64(1) << ((i + 8*uint64(round)) % 64)) },
	}
	var names []string
	for _, p := range prove.Patterns {
		names = append(names, fmt.Sprint(p.Name, " ", p.Rounds))
		if want, ok := holds[p.Name]; ok {
			for round := range p.Rounds {
				memory := make([]uint64, 130)
				p.Fill(memory, 3, round, 9)
				for i := range memory {
					require.Equal(t, want(uint64(i)+3, round), memory[i], "%s, round %d, word %d", p.Name, round, i)
				}
				p.Check(memory, 3, round, 9, func(prove.Fault) bool { t.Error("it is sound"); return true })
			}
		}
	}
	assert.Equal(t, []string{"address 1", "address complement 1", "checkerboard 2", "walking ones 8", "walking zeros 8",
		"random 1"},
		names)
	assert.Equal(t, 3, prove.Fault{Wrote: 0b1011, Read: 0b0110}.Bits())
}

// Figures that lie a tenth apart can be compared, and no further.
func TestHowCloseFiguresMustLie(t *testing.T) {
	for spread, steady := range map[float64]bool{0: true, 0.1: true, 0.1001: false} {
		for _, r := range []prove.Result{{Read: prove.Figure{Spread: spread}}, {Write: prove.Figure{Spread: spread}},
			{Copy: prove.Figure{Spread: spread}}} {
			assert.Equal(t, spread, r.Spread())
			assert.Equal(t, steady, r.Steady(), spread)
			r.Busy = true
			assert.False(t, r.Steady())
		}
	}
	sound := prove.Result{Passes: 1}
	assert.True(t, sound.Sound())
	assert.False(t, prove.Result{}.Sound())
	for n := range prove.MostFaults + 2 {
		assert.Equal(t, max(0, n-prove.MostFaults), sound.MoreFaults)
		sound.Found(prove.Fault{Offset: uint64(n)})
		assert.Len(t, sound.Faults, min(n+1, prove.MostFaults))
	}
	for medians, ok := range map[[2]float64]bool{{1, 1}: true, {0, 1}: false, {1, 0}: false, {-1, 1}: false} {
		_, _, got := prove.Faster(prove.Result{Copy: prove.Figure{Median: medians[0]}},
			prove.Result{Copy: prove.Figure{Median: medians[1]}})
		assert.Equal(t, ok, got, medians)
	}
}
