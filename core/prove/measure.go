package prove

import (
	"math/rand/v2"
	"slices"
	"sync/atomic"
)

// store and load reach memory, whatever the compiler thinks of it.
func store(word *uint64, v uint64) { atomic.StoreUint64(word, v) }
func load(word *uint64) uint64     { return atomic.LoadUint64(word) }

// Read adds up memory, eight words at a time, so that reading it is what takes the time.
func Read(memory []uint64) uint64 {
	var a, b, c, d uint64
	for len(memory) >= 8 {
		m := memory[:8:8]
		a += m[0] + m[4]
		b += m[1] + m[5]
		c += m[2] + m[6]
		d += m[3] + m[7]
		memory = memory[8:]
	}
	for _, v := range memory {
		a += v
	}
	return a + b + c + d
}

// Write fills memory with a value.
func Write(memory []uint64, v uint64) {
	for len(memory) >= 8 {
		m := memory[:8:8]
		m[0], m[1], m[2], m[3] = v, v, v, v
		m[4], m[5], m[6], m[7] = v, v, v, v
		memory = memory[8:]
	}
	for i := range memory {
		memory[i] = v
	}
}

// Copy copies the first half of memory to the second; the bytes moved are those of both.
func Copy(memory []uint64) {
	half := len(memory) / 2
	from, to := memory[:half], memory[half:2*half]
	// The built-in copy moves large pieces with string instructions, which reach two thirds
	// of what loads and stores do on some processors.
	for len(from) >= 8 && len(to) >= 8 {
		f, t := from[:8:8], to[:8:8]
		t[0], t[1], t[2], t[3] = f[0], f[1], f[2], f[3]
		t[4], t[5], t[6], t[7] = f[4], f[5], f[6], f[7]
		from, to = from[8:], to[8:]
	}
	copy(to, from)
}

// line is how far apart the steps of a walk stand, in words: two lines of a cache, so that
// fetching a neighbour along brings nothing.
const line = 128 / Word

// Chain turns memory into one round through all of its lines in random order: each names
// the next. It returns how many steps the round has.
func Chain(memory []uint64, seed uint64) (steps int) {
	n := len(memory) / line
	if n < 2 {
		return 0
	}
	order := make([]uint32, n)
	for i := range order {
		order[i] = uint32(i)
	}
	r := rand.New(rand.NewPCG(seed, seed))
	for i := n - 1; i > 0; i-- { // one round, not several (Sattolo 1986)
		j := r.IntN(i)
		order[i], order[j] = order[j], order[i]
	}
	for i, next := range order {
		memory[i*line] = uint64(next) * line
	}
	return n
}

// Walk follows a chain for so many steps; each waits for the one before it.
func Walk(memory []uint64, steps int) (end uint64) {
	for range steps {
		end = memory[end]
	}
	return end
}

// A Figure is the median of several measurements, with how far they lie apart.
type Figure struct {
	Median float64
	// Spread is the range of the middle half, as a share of the median.
	Spread float64
}

// Of brings measurements together; the zero Figure for none.
func Of(all []float64) Figure {
	if len(all) == 0 {
		return Figure{}
	}
	sorted := slices.Clone(all)
	slices.Sort(sorted)
	at := func(share float64) float64 { return sorted[int(share*float64(len(sorted)-1)+0.5)] }
	f := Figure{Median: at(0.5)}
	if f.Median > 0 {
		f.Spread = (at(0.75) - at(0.25)) / f.Median
	}
	return f
}

// A Result is what was measured and proved of one machine.
type Result struct {
	Threads                    int
	Read, Write, Copy          Figure // MB of 10^6 bytes a second, all threads together
	ReadOne, WriteOne, CopyOne Figure // the same, of one thread
	Latency                    Figure // ns of one step that waits for memory
	LargePages                 bool   // the walk used them; else looking up pages takes part of its time
	Covered, Of                uint64 // bytes that were proved, and that the system has
	Passes                     int    // whole passes over all patterns
	Seed                       uint64 // of the random pattern
	Faults                     []Fault
	MoreFaults                 int  // beyond those kept
	Stopped                    bool // before one pass was whole
	Pressed                    bool // memory was given back, since the system ran short
	Busy                       bool // others were at work meanwhile
}

// MostFaults is how many faults are kept; the rest are counted.
const MostFaults = 64

// Found keeps a fault, or counts it.
func (r *Result) Found(f Fault) {
	if len(r.Faults) < MostFaults {
		r.Faults = append(r.Faults, f)
	} else {
		r.MoreFaults++
	}
}

// Sound reports whether everything that was read back was what had been written, over at
// least one pass.
func (r Result) Sound() bool { return len(r.Faults) == 0 && r.Passes > 0 }

// Spread is the widest of the bandwidths' spreads.
func (r Result) Spread() float64 { return max(r.Read.Spread, r.Write.Spread, r.Copy.Spread) }

// quiet is up to where figures lie so close together that they can be compared.
const quiet = 0.10

// Steady reports whether the figures can be compared: nobody else was at work, and they lie
// close together.
func (r Result) Steady() bool { return !r.Busy && r.Spread() <= quiet }

// runToRun is how far two runs on one machine may lie apart, though each was steady: seven
// measurements of half a second say nothing of the minute after.
const runToRun = 0.15

// Faster compares the bandwidth of two proofs of one machine: how many times the later one
// is, by copying with all threads, and by how much that may be off.
func Faster(before, after Result) (ratio, off float64, ok bool) {
	if before.Copy.Median <= 0 || after.Copy.Median <= 0 {
		return 0, 0, false
	}
	ratio = after.Copy.Median / before.Copy.Median
	return ratio, ratio * max(before.Spread()+after.Spread(), runToRun), true
}
