package need_test

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/golden"
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

// What was watched by chance and asked by chance: what the figures come to, and what is concluded.
func TestNeedsByChance(t *testing.T) {
	var page golden.Page
	p := need.BuiltIn()
	for n := range 300 {
		r := rand.New(rand.NewPCG(uint64(n), 17))
		sum := p.Summarise(watchedByChance(r))
		lines := []string{fmt.Sprintf("%v: %q", sum.Verdict, sum.Why),
			fmt.Sprintf("%d samples, %v: %v, peak %v, lowest %v, swapped %v", sum.Samples, sum.Used, sum.Total.Or(0),
				sum.Peak.Or(0), sum.Lowest.Or(0), sum.Swapped.Or(0))}
		for what, share := range []maybe.Value[float64]{sum.Stall, sum.Bursts, sum.SwapInRate, sum.SwapInShare, sum.DiskStall,
			sum.CPUStall, sum.CPUBusy} {
			lines = append(lines, fmt.Sprintf("share %d: %.2f", what, share.Or(-1)))
		}
		for _, lack := range sum.Lacks {
			lines = append(lines, "lacks "+lack)
		}
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
		lines = append(lines, fmt.Sprintf("%+v", p.Size(q)))
		page.Add(fmt.Sprint("user ", n), lines)
	}
	page.Compare(t, "testdata/generated.txt")
}
