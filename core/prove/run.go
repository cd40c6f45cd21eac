package prove

import (
	"slices"
	"sync"
	"sync/atomic"
	"time"
)

// rounds is how often each figure is measured; the median counts.
const rounds = 7

// measured is how much memory is measured with, in bytes: many times any cache, and little
// enough to be gone through in a moment.
const measured = 1 << 30

// An Order is what a proof is to be made of.
type Order struct {
	Memory  [][]uint64 // in pieces; what stands in them is lost
	Threads int
	Seed    uint64
	Now     func() time.Time
	Until   time.Time // when to end; the zero time for after one pass
	// Stop is asked between pieces whether to end at once.
	Stop func() bool
	// Press is asked between pieces whether the system runs short of memory; the last piece
	// is given back then.
	Press func() bool
	// GiveBack gives a piece back.
	GiveBack func(piece int)
	// Shows says how far the proof has come: what is done, and the share of a pass.
	Shows func(what string, share float64)
	// Saw is handed what is known so far, after each part of the work; nil where nobody wants it.
	Saw func(Result)
}

// A run is a proof at work.
type run struct {
	Order
	result Result
	mutex  sync.Mutex // of result
	ended  atomic.Bool
	done   atomic.Int64 // bytes that were written or read back in this pass
	base   []uint64     // the index of each piece's first word
}

// Run measures and proves. What was measured before it was stopped stays.
func Run(o Order) Result {
	o.Threads = max(o.Threads, 1)
	r := &run{Order: o}
	r.result.Threads, r.result.Seed = o.Threads, o.Seed
	at := uint64(0)
	for _, p := range o.Memory {
		r.base = append(r.base, at)
		at += uint64(len(p))
	}
	r.measure()
	r.saw()
	for pass := 0; !r.over(); pass++ {
		if !r.pass(o.Seed + uint64(pass)) {
			break
		}
		r.result.Passes++
		if o.Until.IsZero() {
			break
		}
	}
	return r.soFar()
}

// soFar is what is known: a pass that was not whole covers what was written and read back of it.
func (r *run) soFar() Result {
	r.mutex.Lock()
	defer r.mutex.Unlock()
	known := r.result
	known.Faults = slices.Clone(known.Faults)
	for _, p := range r.Memory {
		known.Covered += uint64(len(p)) * Word
	}
	if known.Stopped = known.Passes == 0; known.Stopped {
		known.Covered = min(known.Covered, uint64(r.done.Load())/2)
	}
	return known
}

func (r *run) saw() {
	if r.Saw != nil {
		r.Saw(r.soFar())
	}
}

// over reports whether the proof is to end, and remembers it.
func (r *run) over() bool {
	if !r.ended.Load() && (r.Stop() || !r.Until.IsZero() && !r.Now().Before(r.Until)) {
		r.ended.Store(true)
	}
	return r.ended.Load()
}

// together does something to all pieces, each thread its own.
func (r *run) together(threads int, do func(piece int)) {
	var wait sync.WaitGroup
	for t := range threads {
		wait.Go(func() {
			for i := t; i < len(r.Memory) && !r.over(); i += threads {
				do(i)
			}
		})
	}
	wait.Wait()
}

// measure takes bandwidth and latency. A walk of which the chain is being made wants memory
// that is one piece.
func (r *run) measure() {
	if len(r.Memory) == 0 {
		return
	}
	all := r.Memory
	defer func() { r.Memory = all }()
	bytes := 0
	for i, p := range all {
		if bytes += len(p) * Word; bytes >= measured && i+1 >= r.Threads {
			r.Memory = all[:i+1]
			break
		}
	}
	var sink atomic.Uint64
	kinds := []struct {
		one, many *Figure
		do        func([]uint64)
	}{
		{&r.result.WriteOne, &r.result.Write, func(m []uint64) { Write(m, 1) }},
		{&r.result.ReadOne, &r.result.Read, func(m []uint64) { sink.Add(Read(m)) }},
		{&r.result.CopyOne, &r.result.Copy, Copy},
	}
	for i, k := range kinds {
		r.Shows("measuring", float64(i)/float64(len(kinds)+1))
		*k.one, *k.many = r.bandwidth(1, k.do), r.bandwidth(r.Threads, k.do)
		r.saw()
	}
	r.Shows("measuring", float64(len(kinds))/float64(len(kinds)+1))
	r.result.Latency = r.latency(all[0], &sink)
}

// bandwidth measures one way of going through memory, in MB of 10^6 bytes a second.
func (r *run) bandwidth(threads int, do func([]uint64)) Figure {
	var all []float64
	for range rounds + 1 {
		if r.over() {
			break
		}
		bytes := 0
		for _, p := range r.Memory {
			bytes += len(p) * Word
		}
		began := r.Now()
		r.together(threads, func(i int) {
			for from := 0; from < len(r.Memory[i]) && !r.over(); from += atOnce {
				do(r.Memory[i][from:min(len(r.Memory[i]), from+atOnce)])
			}
		})
		if took := r.Now().Sub(began).Seconds(); took > 0 && !r.ended.Load() {
			all = append(all, float64(bytes)/1e6/took)
		}
	}
	if len(all) > 1 {
		all = all[1:] // the first one also fetched the pages
	}
	return Of(all)
}

// walkSteps is how long a walk is measured: long enough for the clock.
const walkSteps = 1 << 20

func (r *run) latency(memory []uint64, sink *atomic.Uint64) Figure {
	steps := min(Chain(memory, r.Seed), walkSteps)
	if steps == 0 {
		return Figure{}
	}
	var all []float64
	for range rounds {
		if r.over() {
			break
		}
		began := r.Now()
		sink.Add(Walk(memory, steps))
		all = append(all, float64(r.Now().Sub(began).Nanoseconds())/float64(steps))
	}
	return Of(all)
}

// atOnce is how many words are gone through before it is asked whether to end: some hundredths of a second's.
const atOnce = 16 << 20 / Word

// pass tries every pattern on all memory: the whole is written before any of it is read
// back, so that none of it waits in a cache. It reports whether it came to its end.
func (r *run) pass(seed uint64) bool {
	total := 0
	for _, p := range Patterns {
		total += 2 * p.Rounds
	}
	step := 0
	r.done.Store(0)
	for _, p := range Patterns {
		for round := range p.Rounds {
			for _, do := range []func(memory []uint64, base uint64){
				func(m []uint64, base uint64) { p.Fill(m, base, round, seed) },
				func(m []uint64, base uint64) { p.Check(m, base, round, seed, r.found) },
			} {
				r.Shows(p.Name, float64(step)/float64(total))
				r.together(r.Threads, func(i int) {
					for from := 0; from < len(r.Memory[i]) && !r.over(); from += atOnce {
						part := r.Memory[i][from:min(len(r.Memory[i]), from+atOnce)]
						do(part, r.base[i]+uint64(from))
						r.done.Add(int64(len(part) * Word))
					}
				})
				if step++; r.ended.Load() {
					return false
				}
				r.giveBack()
			}
			r.saw()
		}
	}
	return true
}

// found keeps a fault. Where there are very many, the rest of the piece is passed over: the
// module is bad, and counting on tells nothing.
func (r *run) found(f Fault) bool {
	r.mutex.Lock()
	defer r.mutex.Unlock()
	r.result.Found(f)
	return r.result.MoreFaults < 1_000_000
}

// giveBack hands the last piece back where the system runs short.
func (r *run) giveBack() {
	if len(r.Memory) > 1 && r.Press() {
		last := len(r.Memory) - 1
		r.GiveBack(last)
		r.Memory, r.base = r.Memory[:last], r.base[:last]
		r.result.Pressed = true
	}
}
