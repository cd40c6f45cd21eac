package need_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"epitome/core/need"
)

// Each threshold of the policy, met and just not met. The figures are those of policy.yaml.
func TestEachThresholdOfPressure(t *testing.T) {
	const (
		total  = 8 << 20 // KiB, as steady has it
		calm   = total / 2
		second = 1e6 // of a counter in microseconds
	)
	// over is a series of 101 samples whose counter runs at so much a second in each interval,
	// and in every nth one at burst instead.
	over := func(available int64, field need.Field, rate, burst float64, nth int) need.Series {
		s, sum := steady(101, available), 0.0
		for i := range s {
			if i > 0 && nth > 0 && i%nth == 0 {
				sum += burst
			} else if i > 0 {
				sum += rate
			}
			s[i] = s[i].With(field, int64(sum))
		}
		return s
	}
	tight := int64(total)*15/100 - 1 // less than 15 % at the worst moment
	busy := func(percent int64) need.Series {
		s := steady(101, calm)
		for i := range s {
			s[i] = s[i].With(need.CPUBusy, int64(i)*percent*4).With(need.CPUTotal, int64(i)*400)
		}
		return s
	}
	for _, c := range []struct {
		name   string
		series need.Series
		want   need.Verdict
	}{
		{"15 % available", steady(101, total*15/100+1), need.Comfortable},
		{"a little less", steady(101, tight), need.Tight},
		{"4 % available", steady(101, total*4/100+1), need.Tight},
		{"a little less than 4 %", steady(101, total*4/100-1), need.Short},
		{"waiting 2 % of the time", over(tight, need.MemoryStall, 0.02*second, 0, 0), need.Short},
		{"waiting 1.9 % of the time", over(tight, need.MemoryStall, 0.019*second, 0, 0), need.Tight},
		{"a pause of 20 % in 2 % of the intervals", over(tight, need.MemoryStall, 0, 0.2*second, 50), need.Short},
		{"pauses of 19 %", over(tight, need.MemoryStall, 0, 0.19*second, 50), need.Tight},
		{"a pause of 20 % in 1 % of the intervals", over(tight, need.MemoryStall, 0, 0.2*second, 100), need.Tight},
		{"waiting with memory left", over(calm, need.MemoryStall, 0.5*second, 0, 0), need.Comfortable},
		{"25 pages a second in 5 % of the intervals", over(calm, need.SwapIn, 0, 25, 20), need.Short},
		{"24 pages a second", over(calm, need.SwapIn, 24, 0, 0), need.Comfortable},
		{"25 pages a second in 4 % of the intervals", over(calm, need.SwapIn, 0, 25, 25), need.Comfortable},
		{"waiting for the disk 30 % of the time", over(calm, need.DiskStall, 0.3*second, 0, 0), need.Elsewhere},
		{"29 % of the time", over(calm, need.DiskStall, 0.29*second, 0, 0), need.Comfortable},
		{"waiting for the processor 30 % of the time", over(calm, need.CPUStall, 0.3*second, 0, 0), need.Elsewhere},
		{"for the processor 29 %", over(calm, need.CPUStall, 0.29*second, 0, 0), need.Comfortable},
		{"a processor that is busy 90 % of the time", busy(90), need.Elsewhere},
		{"89 % of the time", busy(89), need.Comfortable},
	} {
		sum := need.BuiltIn().Summarise(c.series)
		assert.Equal(t, c.want, sum.Verdict, "%s: %v", c.name, sum.Why)
		assert.Equal(t, 100*time.Second, sum.Used, c.name)
	}
	disk := need.BuiltIn().Summarise(over(calm, need.DiskStall, 0.3*second, 0, 0))
	assert.Contains(t, fmt.Sprint(disk.Why), "programs waited for the disk 30 % of the time")
	cpu := need.BuiltIn().Summarise(busy(90))
	assert.Contains(t, fmt.Sprint(cpu.Why), "the processor was busy 90 % of the time, and programs waited for it 0 %")
	fine := need.BuiltIn().Summarise(steady(101, calm))
	assert.NotContains(t, fmt.Sprint(fine.Why), "waited")
	assert.Empty(t, fine.Lacks)
}

// A share that is just met: of 100 MB, 4 MB are 4 % and 15 MB are 15 %.
func TestSharesThatAreJustMet(t *testing.T) {
	of := func(n int, available int64, stall float64) need.Verdict {
		s := steady(n, available)
		for i := range s {
			s[i] = s[i].With(need.Total, 100<<10).With(need.MemoryStall, int64(stall*float64(i)*1e6))
		}
		return need.BuiltIn().Summarise(s).Verdict
	}
	assert.Equal(t, need.Tight, of(101, 4<<10, 0))
	assert.Equal(t, need.Short, of(101, 4<<10-1, 0))
	assert.Equal(t, need.Comfortable, of(101, 15<<10, 0))
	assert.Equal(t, need.Tight, of(101, 15<<10-1, 0))
	assert.Equal(t, need.Comfortable, of(101, 15<<10, 0.5), "programs waited, and memory was left")
	assert.Equal(t, need.Short, of(101, 15<<10-1, 0.5))
}

// What lies between two samples: two minutes are watched, more were sleep; a clock that was
// set is told from one that runs a little off.
func TestWhatLiesBetweenTwoSamples(t *testing.T) {
	for _, c := range []struct {
		apart, wall time.Duration
		used        bool
		says        string
	}{
		{2 * time.Minute, 2 * time.Minute, true, ""},
		{2*time.Minute + 1, 2*time.Minute + 1, false, "1 gaps longer than 2m0s"},
		{0, 0, false, "1 gaps"},
		{time.Second, 6 * time.Second, true, ""},
		{time.Second, 6*time.Second + 1, true, "the clock was set 1 times"},
		{time.Second, -4 * time.Second, true, ""},
		{time.Second, -4*time.Second - 1, true, "the clock was set 1 times"},
	} {
		s := steady(20, 4<<20)
		for i := 10; i < len(s); i++ {
			s[i].At += c.apart - time.Second
			s[i].Wall += c.wall - time.Second
		}
		sum := need.BuiltIn().Summarise(s)
		want := 18 * time.Second
		if c.used {
			want += c.apart
		}
		assert.Equal(t, want, sum.Used, c)
		if c.says == "" {
			assert.Empty(t, sum.Lacks, c)
		} else {
			assert.Contains(t, fmt.Sprint(sum.Lacks), c.says, c)
		}
	}
}

// How much a verdict wants: ten seconds, or one look that shows little left.
func TestHowMuchAVerdictWants(t *testing.T) {
	assert.Equal(t, need.Comfortable, verdict(steady(11, 4<<20)), "ten seconds between eleven samples")
	assert.Equal(t, need.Unclear, verdict(steady(10, 4<<20)))
	assert.Equal(t, need.Unclear, verdict(steady(1, 8<<20*15/100+1)), "one look with enough left")
	assert.Equal(t, need.Tight, verdict(steady(1, 8<<20*15/100-1)), "one look with little left")
	assert.Equal(t, need.Tight, verdict(steady(1, 1<<10)), "one look is never short: it may have been the moment")
	one := need.BuiltIn().Summarise(steady(1, 4<<20))
	assert.Contains(t, fmt.Sprint(one.Lacks), "one sample only")
	none := need.BuiltIn().Summarise(nil)
	assert.Contains(t, fmt.Sprint(none.Lacks), "no sample at all")
	assert.NotContains(t, fmt.Sprint(none.Lacks), "one sample only")
}
