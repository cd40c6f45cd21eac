package need

import (
	"fmt"
	"slices"
	"time"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Verdict says what a measured series comes to.
type Verdict string

// The verdicts.
const (
	Short       Verdict = "short"       // memory is what the machine lacked
	Tight       Verdict = "tight"       // it sufficed, with next to no room
	Comfortable Verdict = "comfortable" // it sufficed with room
	Elsewhere   Verdict = "elsewhere"   // slow for another reason than memory
	Unclear     Verdict = "unclear"     // too little was measured to tell
)

// A Summary is what a series comes to. Shares are percent of the time that
// could be used.
type Summary struct {
	Verdict     Verdict
	Why         []string // the figures that decided, in words
	Lacks       []string // what the series does not hold, and what that costs
	Samples     int
	Used        time.Duration // time between samples that could be used
	Total       maybe.Value[jedec.Capacity]
	Peak        maybe.Value[jedec.Capacity] // most in use at once, swap included
	Lowest      maybe.Value[jedec.Capacity] // least available
	Swapped     maybe.Value[jedec.Capacity] // most in swap at once
	Stall       maybe.Value[float64]        // share of time with a task waiting for memory
	Bursts      maybe.Value[float64]        // share of time in intervals with a long wait
	SwapInRate  maybe.Value[float64]        // pages a second, on average
	SwapInShare maybe.Value[float64]        // share of time in intervals with heavy swapping in
	DiskStall   maybe.Value[float64]
	CPUStall    maybe.Value[float64]
	CPUBusy     maybe.Value[float64]
}

// longest is how far apart two samples may lie for their difference to be
// used. A longer gap was sleep or a stopped program.
const longest = 2 * time.Minute

// shortest is how much usable time a verdict wants.
const shortest = 10 * time.Second

// meter adds up one counter over the pairs that could be used.
type meter struct {
	field Field
	sum   float64       // of the counter
	over  time.Duration // time in pairs that had the counter
	heavy time.Duration // time in pairs whose rate reached bound
	bound float64       // a second; 0 for none
}

// wentBack reports whether the counter fell from one sample to the next.
func (m *meter) wentBack(a, b Sample) bool {
	before, ok1 := a.Get(m.field)
	after, ok2 := b.Get(m.field)
	return ok1 && ok2 && after < before
}

func (m *meter) add(a, b Sample, dt time.Duration) {
	before, ok1 := a.Get(m.field)
	after, ok2 := b.Get(m.field)
	if !ok1 || !ok2 {
		return
	}
	delta := float64(after - before)
	m.sum += delta
	m.over += dt
	if m.bound > 0 && delta >= m.bound*dt.Seconds() {
		m.heavy += dt
	}
}

func (m *meter) rate() maybe.Value[float64] {
	return maybe.If(m.sum/m.over.Seconds(), m.over > 0)
}

// share is the counter's time as percent of the time it ran: counters of
// microseconds.
func (m *meter) share() maybe.Value[float64] {
	return maybe.If(min(100, 100*m.sum/1e6/m.over.Seconds()), m.over > 0)
}

func (m *meter) heavyShare() maybe.Value[float64] {
	return maybe.If(100*m.heavy.Seconds()/m.over.Seconds(), m.over > 0)
}

// Summarise brings a series to a verdict by the policy's thresholds. Pairs of
// samples between which a counter went back (a restart), or which lie too far
// apart, are left out and named.
func (p Policy) Summarise(series Series) Summary {
	s := Summary{Samples: len(series)}
	t := p.Pressure
	stall := meter{field: MemoryStall, bound: t.StallBurstPercent * 1e4}
	swapIn := meter{field: SwapIn, bound: t.SwapInPages}
	disk, cpu := meter{field: DiskStall}, meter{field: CPUStall}
	busy, ticks := meter{field: CPUBusy}, meter{field: CPUTotal}
	gaps, restarts, jumps := 0, 0, 0
	for i, x := range series {
		s.levels(x)
		if i == 0 {
			continue
		}
		before := series[i-1]
		dt := x.At - before.At
		switch wall := x.Wall - before.Wall; {
		case dt <= 0 || dt > longest:
			gaps++
			continue
		case wall < dt-5*time.Second || wall > dt+5*time.Second:
			jumps++ // the wall clock was set; the other clock goes on
		}
		meters := []*meter{&stall, &swapIn, &disk, &cpu, &busy, &ticks}
		if slices.ContainsFunc(meters, func(m *meter) bool { return m.wentBack(before, x) }) {
			restarts++
			continue
		}
		for _, m := range meters {
			m.add(before, x, dt)
		}
		s.Used += dt
	}
	s.Stall, s.Bursts = stall.share(), stall.heavyShare()
	s.SwapInRate, s.SwapInShare = swapIn.rate(), swapIn.heavyShare()
	s.DiskStall, s.CPUStall = disk.share(), cpu.share()
	s.CPUBusy = maybe.If(100*busy.sum/ticks.sum, ticks.sum > 0)
	s.lacking(gaps, restarts, jumps)
	s.judge(t)
	return s
}

// levels follows the highest and lowest of the sizes.
func (s *Summary) levels(x Sample) {
	total, ok1 := x.Get(Total)
	available, ok2 := x.Get(Available)
	swapTotal, ok3 := x.Get(SwapTotal)
	swapFree, ok4 := x.Get(SwapFree)
	size := func(kib int64) jedec.Capacity { return jedec.Capacity(max(0, kib)) * jedec.KiB }
	swapped := jedec.Capacity(0)
	if ok3 && ok4 {
		swapped = size(swapTotal - swapFree)
		s.Swapped = maybe.Just(max(swapped, s.Swapped.Or(0)))
	}
	if !ok1 || !ok2 {
		return
	}
	s.Total = maybe.Just(max(size(total), s.Total.Or(0)))
	s.Peak = maybe.Just(max(size(total-available)+swapped, s.Peak.Or(0)))
	s.Lowest = maybe.Just(min(size(available), s.Lowest.Or(size(available))))
}

// lacking names what the series does not hold.
func (s *Summary) lacking(gaps, restarts, jumps int) {
	note := func(yes bool, format string, args ...any) {
		if yes {
			s.Lacks = append(s.Lacks, fmt.Sprintf(format, args...))
		}
	}
	note(s.Samples == 0, "no sample at all")
	note(s.Samples == 1, "one sample only: peaks and stalls can't be told")
	note(s.Samples > 1 && !s.Stall.Known(),
		"the kernel shows no memory pressure: stalls can't be told, only swapping and what is in use")
	note(s.Samples > 1 && !s.SwapInRate.Known(), "no swap counters: swapping can't be told")
	note(s.Samples > 0 && !s.Peak.Known(), "no figures of memory in use")
	note(s.Samples > 1 && !s.DiskStall.Known() && !s.CPUBusy.Known(),
		"no figures of processor and disk: another reason can't be told")
	note(gaps > 0, "%d gaps longer than %v, or samples out of order; left out", gaps, longest)
	note(restarts > 0, "counters began anew %d times (a restart in between); those intervals are left out", restarts)
	note(jumps > 0, "the clock was set %d times while watching; intervals are measured by another clock", jumps)
}

// judge brings the figures to a verdict. Shortage wants a direct sign: tasks
// that waited for memory, or pages that came back from swap, with little left
// available. A full cache or a busy disk is none.
func (s *Summary) judge(t Thresholds) {
	total, known := s.Total.Get()
	lowest := s.Lowest.Or(0)
	left := 100 * float64(lowest) / float64(max(total, 1))
	if known && s.Samples == 1 && left >= t.TightAvailable {
		s.Verdict = Unclear
		s.Why = append(s.Why, fmt.Sprintf("one look, with %v of %v available; watching while the user works tells more",
			lowest, total))
		return
	}
	if !known || s.Samples > 1 && s.Used < shortest || s.Samples == 0 {
		s.Verdict = Unclear
		s.Why = append(s.Why, fmt.Sprintf("%v could be used; %v are wanted", s.Used.Round(time.Second), shortest))
		return
	}
	stall, bursts, swapping, rate := s.Stall.Or(0), s.Bursts.Or(0), s.SwapInShare.Or(0), s.SwapInRate.Or(0)
	waited := stall >= t.StallPercent || bursts >= t.BurstSharePercent
	swapped := swapping >= t.SwapInShare
	say := func(format string, args ...any) { s.Why = append(s.Why, fmt.Sprintf(format, args...)) }
	say("at the worst moment %v of %v were available, %.0f %%", lowest, total, left)
	if waited {
		say("programs waited for memory %.1f %% of the time, and %.1f %% of the time in long pauses", stall, bursts)
	}
	if swapped {
		say("pages came back from swap at %.0f a second, heavily %.0f %% of the time", rate, swapping)
	}
	switch {
	case swapped, waited && left < t.TightAvailable, s.Samples > 1 && left < t.ShortAvailable:
		s.Verdict = Short
	case left < t.TightAvailable:
		s.Verdict = Tight
	case s.DiskStall.Or(0) >= t.Elsewhere, s.CPUStall.Or(0) >= t.Elsewhere, s.CPUBusy.Or(0) >= 90:
		s.Verdict = Elsewhere
	default:
		s.Verdict = Comfortable
	}
	if d := s.DiskStall.Or(0); d >= t.Elsewhere {
		say("programs waited for the disk %.0f %% of the time", d)
	}
	if c := s.CPUStall.Or(0); c >= t.Elsewhere || s.CPUBusy.Or(0) >= 90 {
		say("the processor was busy %.0f %% of the time, and programs waited for it %.0f %%", s.CPUBusy.Or(0), c)
	}
}
