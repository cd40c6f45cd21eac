package need_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/golden"
	"epitome/truth/effort"
)

// watchedByChance is a series by chance: figures that a kernel shows or not, pauses, swapping, gaps and restarts.
func watchedByChance(r *rand.Rand) (s need.Series) {
	total := int64([]int{4, 8, 16}[r.IntN(3)]) << 20
	shows := make(map[need.Field]bool)
	for f := need.Total; f <= need.CPUTotal; f++ {
		shows[f] = r.IntN(5) > 0
	}
	free := total * int64([]int{1, 3, 4, 10, 15, 20, 60}[r.IntN(7)]) / 100
	grows := map[need.Field]int64{need.SwapIn: int64([]int{0, 0, 10, 30, 300}[r.IntN(5)]),
		need.SwapOut: int64(r.IntN(20)), need.MajorFaults: int64(r.IntN(50)),
		need.MemoryStall: int64([]int{0, 10_000, 20_000, 300_000}[r.IntN(4)]),
		need.DiskStall:   int64([]int{0, 100_000, 300_000, 400_000}[r.IntN(4)]),
		need.CPUStall:    int64([]int{0, 100_000, 300_000, 500_000}[r.IntN(4)]),
		need.CPUBusy:     int64([]int{40, 350, 360, 380}[r.IntN(4)]), need.CPUTotal: 400}
	have := make(map[need.Field]int64)
	at := time.Duration(0)
	for i := range []int{0, 1, 2, 3, 12, 60}[r.IntN(6)] {
		step := time.Second
		switch r.IntN(20) {
		case 0:
			step = 3 * time.Minute
		case 1:
			step = 0
		case 2:
			have = make(map[need.Field]int64) // it was started anew
		}
		at += step
		one := need.NewSample(at, at+time.Duration(r.IntN(30)/29)*time.Hour)
		put := func(f need.Field, v int64) {
			if shows[f] {
				one = one.With(f, v)
			}
		}
		put(need.Total, total)
		put(need.Available, free+int64(i%3)*1000)
		put(need.SwapTotal, total/2)
		put(need.SwapFree, total/2-int64(r.IntN(2))*total/8)
		for f := need.SwapIn; f <= need.CPUTotal; f++ { // in their order: chance must not depend on a map's
			have[f] += grows[f] * max(0, int64(step/time.Second))
			put(f, have[f])
		}
		s = append(s, one)
	}
	return s
}

// asked is a question by chance.
func asked(t *testing.T, p need.Policy, r *rand.Rand) (need.Question, need.Summary) {
	sum := p.Summarise(watchedByChance(r))
	uses, err := p.ParseUses([]string{"", "", "browsing", "office,calls", "vm=2", "games,tabs=40"}[r.IntN(6)])
	require.NoError(t, err)
	q := need.Question{System: []string{"Linux", "Windows 10", "Windows 11", ""}[r.IntN(4)], Uses: uses,
		Bits: []int{0, 32, 64, 64}[r.IntN(4)]}
	gib := func() maybe.Value[jedec.Capacity] {
		return maybe.If(jedec.Capacity(2<<r.IntN(5))*jedec.GiB, r.IntN(4) > 0)
	}
	if q.Installed, q.Reach = gib(), gib(); r.IntN(4) > 0 {
		q.Summary = maybe.Just(sum)
	}
	return q, sum
}

// What was watched adds up: shares are shares, the peak is within what there is with swap, the lowest available below
// it, and each verdict says why; one that can't be given says what is lacking.
func TestChanceWatchedFiguresAddUp(t *testing.T) {
	p, verdicts := need.BuiltIn(), make(map[need.Verdict]int)
	for n := range effort.Cases(1200) {
		_, sum := asked(t, p, rand.New(rand.NewPCG(uint64(n), 17)))
		verdicts[sum.Verdict]++
		for what, share := range []maybe.Value[float64]{sum.Stall, sum.Bursts, sum.SwapInShare, sum.DiskStall, sum.CPUStall,
			sum.CPUBusy} {
			v := share.Or(0)
			assert.True(t, v >= 0 && v <= 100, "series %d, share %d: %v", n, what, v)
		}
		assert.GreaterOrEqual(t, sum.SwapInRate.Or(0), 0.0, n)
		if total, ok := sum.Total.Get(); ok {
			assert.LessOrEqual(t, sum.Lowest.Or(0), total, n)
			assert.LessOrEqual(t, sum.Peak.Or(0), total+total/2, n)
		}
		assert.False(t, sum.Samples > 1 && len(sum.Why)+len(sum.Lacks) == 0, "series %d: %v, and nobody knows why", n,
			sum.Verdict)
	}
	assert.GreaterOrEqual(t, len(verdicts), 4, "%v", verdicts)
}

// What is needed is never below its floor, its parts and what was measured; more uses never need less, more installed
// never lacks more; what the machine or system ends is said.
func TestChanceNeedsAddUp(t *testing.T) {
	p := need.BuiltIn()
	for n := range effort.Cases(1200) {
		r := rand.New(rand.NewPCG(uint64(n), 17))
		q, _ := asked(t, p, r)
		a := p.Size(q)
		sum := jedec.Capacity(0)
		for _, part := range a.Parts {
			sum += part.Size
		}
		assert.GreaterOrEqual(t, a.Estimate, sum*map[bool]jedec.Capacity{true: 1}[a.Estimate > 0], n)
		size, ok := a.Recommended.Get()
		if !ok {
			assert.False(t, len(q.Uses) > 0 && !a.Ends.Known(), "user %d: uses, and no figure", n)
			continue
		}
		ends := a.Ends.Or(size)
		assert.GreaterOrEqual(t, max(size, ends), min(max(a.Floor.Or(0), a.Estimate), ends), n)
		assert.NotEmpty(t, a.Customer, n)
		if have, ok := q.Installed.Get(); ok && have < size && a.Helps.Known() && !a.Ends.Known() {
			assert.True(t, a.Helps.Or(false), "user %d: %v of %v, and more does not help", n, have, size)
		}
		if a.Ends.Known() {
			assert.NotEmpty(t, a.Because, n)
		}
		more := q
		extra, err := p.ParseUses("vm=3")
		require.NoError(t, err)
		more.Uses = append(slices.Clone(q.Uses), extra...)
		assert.GreaterOrEqual(t, p.Size(more).Estimate, a.Estimate, n)
	}
}

// Some users in full: what was watched, what is concluded, what is said.
func TestUsersInFull(t *testing.T) {
	var page golden.Page
	p := need.BuiltIn()
	for _, n := range []uint64{2, 5, 11, 17, 26, 41, 58, 73} {
		q, sum := asked(t, p, rand.New(rand.NewPCG(n, 17)))
		lines := []string{fmt.Sprintf("%v: %q", sum.Verdict, sum.Why),
			fmt.Sprintf("%d samples, %v: %v, peak %v, lowest %v, swapped %v", sum.Samples, sum.Used, sum.Total.Or(0),
				sum.Peak.Or(0), sum.Lowest.Or(0), sum.Swapped.Or(0))}
		for _, lack := range sum.Lacks {
			lines = append(lines, "lacks "+lack)
		}
		a := p.Size(q)
		lines = append(lines, fmt.Sprintf("needs %v of %v", a.Recommended.Or(0), a.Parts), a.Customer)
		lines = append(lines, append(a.Reasons, a.Warnings...)...)
		page.Add(fmt.Sprintf("%s, %v, %d bits, %v installed, reaches %v", q.System, q.Uses, q.Bits, q.Installed.Or(0),
			q.Reach.Or(0)), lines...)
	}
	page.Compare(t, "testdata/in-full.txt")
}
