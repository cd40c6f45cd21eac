package need_test

import (
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/records"
)

func file(t testing.TB, name string) []byte {
	t.Helper()
	data, err := os.ReadFile(name)
	require.NoError(t, err)
	return data
}

func TestTextsOfARealKernel(t *testing.T) {
	const folder = "../../testdata/captures/q35-bios32-1g-skylake-client/"
	s := need.NewSample(0, 0).Read(need.Texts{MemInfo: file(t, folder+"meminfo"), VMStat: file(t, folder+"vmstat"),
		Memory: file(t, folder+"pressure-memory")})
	for field, want := range map[need.Field]int64{need.Total: 989992, need.Available: 863108, need.SwapIn: 0,
		need.MajorFaults: 0, need.MemoryStall: 0} {
		got, ok := s.Get(field)
		assert.True(t, ok)
		assert.Equal(t, want, got)
	}
	_, ok := s.Get(need.CPUBusy)
	assert.False(t, ok, "what no text shows is missing")
}

// A text cut anywhere yields what was there, never a figure that was not.
func TestTextsCutShort(t *testing.T) {
	const folder = "../../testdata/captures/q35-bios32-1g-skylake-client/"
	whole := need.Texts{MemInfo: file(t, folder+"meminfo"), VMStat: file(t, folder+"vmstat"),
		Memory: []byte("some avg10=0.00 avg60=0.00 avg300=0.00 total=1234\n"),
		Stat:   []byte("cpu  10 0 5 100 20 0 1 0 0 0\ncpu0 1 1 1\n")}
	full := need.NewSample(0, 0).Read(whole)
	for n := range whole.MemInfo {
		s := need.NewSample(0, 0).Read(need.Texts{MemInfo: whole.MemInfo[:n]})
		if got, ok := s.Get(need.Total); ok {
			want, _ := full.Get(need.Total)
			require.Equal(t, want, got, "meminfo cut at %d", n)
		}
	}
	busy, ok := full.Get(need.CPUBusy)
	assert.True(t, ok)
	assert.Equal(t, int64(16), busy, "idle and waiting for the disk are not busy")
	stall, _ := full.Get(need.MemoryStall)
	assert.Equal(t, int64(1234), stall)
	for _, bad := range []string{"some total=-4\n", "full avg10=0 total=7\n", "some total=", "total=7\n"} {
		_, ok := need.NewSample(0, 0).Read(need.Texts{Memory: []byte(bad)}).Get(need.MemoryStall)
		assert.False(t, ok, "%q", bad)
	}
}

func TestKernelsWithoutMemAvailable(t *testing.T) {
	s := need.NewSample(0, 0).Read(need.Texts{MemInfo: []byte("MemTotal: 1000 kB\nMemFree: 100 kB\nBuffers: 50 " +
		"kB\nCached: 250 kB\n")})
	got, ok := s.Get(need.Available)
	assert.True(t, ok)
	assert.Equal(t, int64(400), got)
}

func TestASeriesComesBackAsItWas(t *testing.T) {
	series := need.Series{
		need.NewSample(0, 0).With(need.Total, 1000).With(need.Available, 400),
		need.NewSample(time.Second, 1001*time.Millisecond),
		need.NewSample(2*time.Second, -time.Hour).With(need.SwapIn, 1<<40),
	}
	got, err := need.ParseSeries(series.Encode())
	require.NoError(t, err)
	assert.Equal(t, series, got)

	cut := series.Encode()
	got, err = need.ParseSeries(cut[:len(cut)-5])
	require.NoError(t, err, "a last line cut short is left out")
	assert.GreaterOrEqual(t, len(got), 2)

	_, err = need.ParseSeries([]byte("when,what\n1,2\n"))
	require.ErrorIs(t, err, need.ErrSeries)
	_, err = need.ParseSeries([]byte("at_ms,total_kib\n1,2\nx,3\n4,5\n"))
	require.ErrorIs(t, err, need.ErrSeries)
	assert.Contains(t, err.Error(), `line 3: "x" is no number`)
	got, err = need.ParseSeries([]byte("total_kib,later_figure,at_ms\n9,8,7\n"))
	require.NoError(t, err, "columns are found by name; unknown ones are passed over")
	total, _ := got[0].Get(need.Total)
	assert.Equal(t, int64(9), total)
}

func FuzzParseSeries(f *testing.F) {
	f.Add(need.Series{need.NewSample(0, 0).With(need.Total, 1000), need.NewSample(time.Second, time.Second)}.Encode())
	f.Fuzz(func(t *testing.T, text []byte) {
		series, err := need.ParseSeries(text)
		if err != nil {
			require.ErrorIs(t, err, need.ErrSeries)
		}
		need.BuiltIn().Summarise(series)
	})
}

// steady is a series of one sample a second in which nothing happens.
func steady(n int, available int64) need.Series {
	var s need.Series
	for i := range n {
		at := time.Duration(i) * time.Second
		s = append(s, need.NewSample(at, at).With(need.Total, 8<<20).With(need.Available, available).With(need.SwapTotal,
			2<<20).With(need.SwapFree, 2<<20).
			With(need.SwapIn, 0).With(need.MemoryStall, 0).With(need.DiskStall, 0).With(need.CPUStall, 0).With(need.CPUBusy,
			int64(i)*5).With(need.CPUTotal, int64(i)*400))
	}
	return s
}

func verdict(s need.Series) need.Verdict { return need.BuiltIn().Summarise(s).Verdict }

func TestVerdicts(t *testing.T) {
	assert.Equal(t, need.Comfortable, verdict(steady(60, 4<<20)))
	assert.Equal(t, need.Tight, verdict(steady(60, 1<<20)), "an eighth available")
	assert.Equal(t, need.Short, verdict(steady(60, 200<<10)), "less than a twentieth")
	assert.Equal(t, need.Unclear, verdict(steady(5, 4<<20)), "five seconds tell nothing")
	assert.Equal(t, need.Unclear, verdict(nil))

	disk := steady(60, 4<<20)
	for i := range disk {
		disk[i] = disk[i].With(need.DiskStall, int64(i)*600_000).With(need.MemoryStall, int64(i)*30_000)
	}
	assert.Equal(t, need.Elsewhere, verdict(disk),
		"the disk is waited for; a little reclaim with half the memory available is no shortage")

	swap := steady(60, 2<<20)
	for i := range swap {
		swap[i] = swap[i].With(need.SwapIn, int64(i)*300)
	}
	assert.Equal(t, need.Short, verdict(swap), "300 pages a second come back from swap")
}

func TestARestartAndAJumpingClockAreSurvived(t *testing.T) {
	s := steady(60, 4<<20)
	for i := range s {
		s[i] = s[i].With(need.SwapIn, int64(1000-i)) // counters of an earlier boot
		if i >= 30 {
			s[i] = s[i].With(need.SwapIn, int64(i-30))
		}
	}
	s[40].Wall += 24 * time.Hour
	sum := need.BuiltIn().Summarise(s)
	assert.Equal(t, need.Comfortable, sum.Verdict)
	assert.Less(t, sum.Used, 40*time.Second, "intervals in which a counter fell are left out")
	assert.Contains(t, fmt.Sprint(sum.Lacks), "counters began anew")
	assert.Contains(t, fmt.Sprint(sum.Lacks), "the clock was set 2 times")

	gap := append(steady(30, 4<<20), steady(30, 4<<20)...)
	sum = need.BuiltIn().Summarise(gap)
	assert.Contains(t, fmt.Sprint(sum.Lacks), "samples out of order")
}

// Two hours asleep are no measurement: what a counter gained over them says
// nothing of a second, and the time was not used.
func TestASleepIsNotMeasuredAcross(t *testing.T) {
	s := steady(60, 4<<20)
	for i := 30; i < len(s); i++ {
		s[i].At += 2 * time.Hour
		s[i].Wall += 2 * time.Hour
	}
	sum := need.BuiltIn().Summarise(s)
	assert.Less(t, sum.Used, 10*time.Minute)
	assert.Contains(t, fmt.Sprint(sum.Lacks), "1 gaps longer than 2m0s")
	awake := need.BuiltIn().Summarise(steady(60, 4<<20))
	assert.NotContains(t, fmt.Sprint(awake.Lacks), "gaps longer")
	assert.Less(t, sum.Used, awake.Used)
}

func TestKernelsWithoutPressureSayWhatCantBeTold(t *testing.T) {
	s := steady(60, 4<<20)
	for i := range s {
		s[i] = need.NewSample(s[i].At, s[i].Wall).With(need.Total, 8<<20).With(need.Available, 4<<20)
	}
	sum := need.BuiltIn().Summarise(s)
	assert.Equal(t, need.Comfortable, sum.Verdict)
	assert.Contains(t, fmt.Sprint(sum.Lacks), "stalls can't be told")
	assert.Contains(t, fmt.Sprint(sum.Lacks), "swapping can't be told")
	assert.Contains(t, fmt.Sprint(sum.Lacks), "another reason can't be told")
}

func TestOneLookAtAManagementObject(t *testing.T) {
	x, err := records.ParseExport([]byte(`{"CreationClassName":"CIM_OperatingSystem",
"TotalVisibleMemorySize":4000000,"FreePhysicalMemory":200000,"TotalVirtualMemorySize":6000000,` +
		`"FreeVirtualMemory":700000}`))
	require.NoError(t, err)
	look, ok := need.FromCIM(x.Objects[0])
	require.True(t, ok)
	p := need.BuiltIn()
	sum := p.Summarise(need.Series{look})
	assert.Equal(t, need.Tight, sum.Verdict)
	assert.Equal(t, maybe.Just(5_300_000*jedec.KiB), sum.Peak, "in use, and in the page file")
	assert.Contains(t, sum.Lacks[0], "one sample only")
	a := p.Size(need.Question{Summary: maybe.Just(sum), Installed: maybe.Just(4 * jedec.GiB)})
	assert.False(t, a.Recommended.Known(), "one look is no measurement")
	assert.Contains(t, a.Reasons[0], "5.05 GB were in use at one look, which is no measurement")
	_, ok = need.FromCIM(records.Object{Class: records.Processor})
	assert.False(t, ok)
}

func TestAMeasurementOfAnotherMachineIsNotUsed(t *testing.T) {
	p := need.BuiltIn()
	a := p.Size(need.Question{Summary: maybe.Just(p.Summarise(steady(60, 200<<10))), Installed: maybe.Just(4 * jedec.GiB)})
	assert.False(t, a.Recommended.Known())
	assert.Contains(t, a.Warnings[0], "another machine was watched")
}

func TestComfortableDoesNotTellHowLittleWouldDo(t *testing.T) {
	p := need.BuiltIn()
	a := p.Size(need.Question{Summary: maybe.Just(p.Summarise(steady(60, 6<<20))), Installed: maybe.Just(8 * jedec.GiB)})
	assert.False(t, a.Recommended.Known())
	assert.Equal(t, maybe.Just(false), a.Helps)
}

func day() need.Series { return steady(86400, 4<<20) }

func BenchmarkADayOfSamples(b *testing.B) {
	text := day().Encode()
	p := need.BuiltIn()
	b.SetBytes(int64(len(text)))
	b.ReportAllocs()
	for b.Loop() {
		series, err := need.ParseSeries(text)
		if err != nil {
			b.Fatal(err)
		}
		p.Summarise(series)
	}
}

// Three series measured for real: a machine short of memory, one at ease, one
// that waits for its disk. See testdata/series.
func TestRecordedSeriesAreToldApart(t *testing.T) {
	for name, want := range map[string]need.Verdict{"short": need.Short, "ease": need.Comfortable,
		"disk": need.Elsewhere} {
		c, err := card.Parse(file(t, "../../testdata/series/"+name+".card"))
		require.NoError(t, err)
		require.Len(t, c.Of(card.Series), 1)
		series, err := need.ParseSeries(c.Of(card.Series)[0].Data)
		require.NoError(t, err)
		sum := need.BuiltIn().Summarise(series)
		assert.Equal(t, want, sum.Verdict, name)
		assert.NotEmpty(t, sum.Why, name)
		assert.Greater(t, sum.Used, 30*time.Second, name)
	}
}
