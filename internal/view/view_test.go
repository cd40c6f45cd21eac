package view_test

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/convert"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/need"
	"epitome/core/prove"
	"epitome/internal/view"
)

// page lays something out at 80 columns and returns the lines.
func page(t *testing.T, look view.Look, lay func(*view.Page)) []string {
	t.Helper()
	p := view.NewPage(look)
	lay(p)
	var b bytes.Buffer
	require.NoError(t, p.Flush(&b))
	return strings.Split(strings.TrimRight(b.String(), "\n"), "\n")
}

func plain(t *testing.T, lay func(*view.Page)) []string {
	return page(t, view.Look{Width: 80}, lay)
}

func site(channel, name, holds string, form view.SiteForm) view.Site {
	return view.Site{Channel: channel, Name: name, Holds: holds, Form: form}
}

func TestTheMapIsDrawnByChannelFromTheControllerOutward(t *testing.T) {
	sites := []view.Site{site("B", "B1", "free", view.FreeSocket), site("A", "A1", "8 GB", view.FilledSocket),
		site("A", "A2", "free", view.FreeSocket),
		site("B", "onboard", "4 GB", view.SolderedBank), site("", "lost", "?", view.UnclearPlace)}
	assert.Equal(t, []string{
		"  controller ┬─ A ─▐ A1 · 8 GB ▌─╎ A2 · free ╎",
		"             ├─ B ─╎ B1 · free ╎─▒ onboard · 4 GB ▒",
		"             └─ ? ─? lost · ? ?",
	}, plain(t, func(p *view.Page) { p.SlotMap(sites) }))
	assert.Equal(t, []string{
		"  controller +- A -[ A1 - 8 GB ]-: A2 - free :",
		"             +- B -: B1 - free :-# onboard - 4 GB #",
		"             `- ? -? lost - ? ?",
	}, page(t, view.Look{Width: 80, ASCII: true}, func(p *view.Page) { p.SlotMap(sites) }))
}

func TestAMapOfManyPlacesStaysWithinItsWidth(t *testing.T) {
	var sites []view.Site
	for _, channel := range []string{"A", "B"} {
		for _, name := range []string{"first", "second", "third", "fourth", "a name that is far too long for any board"} {
			sites = append(sites, site(channel, channel+" "+name, "32 GB", view.FilledSocket))
		}
	}
	lines := plain(t, func(p *view.Page) { p.SlotMap(sites) })
	assert.Greater(t, len(lines), 2, "it goes on in further lines")
	for _, line := range lines {
		assert.LessOrEqual(t, utf8.RuneCountInString(line), 80, line)
	}
	assert.Equal(t, 10, strings.Count(strings.Join(lines, "\n"), "32 GB"), "no place is lost")
	assert.Contains(t, strings.Join(lines, "\n"), "A a name that is far …")
}

func TestTablesLeaveOutEmptyColumnsAndHoldTheirWidth(t *testing.T) {
	columns := []view.Column{{Title: "Name", Align: view.Left}, {Title: "Empty", Align: view.Left},
		{Title: "MB", Align: view.Right}, {Title: "Why", Align: view.Left, Max: view.Rest}}
	rows := [][]string{{"one", "", "1", strings.Repeat("long words ", 20)}, {"eleven", "", "1024", "short"}}
	lines := plain(t, func(p *view.Page) { p.Table(columns, rows) })
	require.Len(t, lines, 6)
	assert.Equal(t, "Name      MB  Why", lines[0])
	assert.True(t, strings.HasPrefix(lines[1], "one        1  long words"), lines[1])
	assert.True(t, strings.HasSuffix(lines[3], "words") && strings.HasPrefix(lines[4], "              "),
		"what does not fit goes on below")
	assert.True(t, strings.HasSuffix(strings.TrimSpace(strings.Join(lines[1:5], "\n")), "words") ||
		strings.HasSuffix(lines[4], "…"), "and shows where it ends")
	assert.Equal(t, "eleven  1024  short", lines[5])
	for _, line := range lines {
		assert.LessOrEqual(t, utf8.RuneCountInString(line), 80)
		assert.Equal(t, strings.TrimRight(line, " "), line, "no trailing blanks")
	}
}

// A part number breaks over lines and never ends in dots; a page of 60 columns holds.
func TestNarrowPagesLoseNothing(t *testing.T) {
	p := view.NewPage(view.Look{Width: 60})
	p.Table([]view.Column{{Title: "Place", Align: view.Left, Max: 24}, {Title: "Runs at", Align: view.Right},
		{Title: "Over all channels", Align: view.Right}, {Title: "Part", Align: view.Left, Max: view.Rest}},
		[][]string{{"Controller0-ChannelA-DIMM0", "2400", "16 GB", "Marram Memory MR4S-8G24-17-EXTRA-LONG-NUMBER-0815"},
			{"B", "2133", "none", "Spindrift SD4S"}})
	var out strings.Builder
	require.NoError(t, p.Flush(&out))
	whole := strings.Join(strings.Fields(out.String()), "")
	for _, line := range strings.Split(out.String(), "\n") {
		assert.LessOrEqual(t, utf8.RuneCountInString(line), 60, line)
	}
	assert.NotContains(t, out.String(), "…")
	assert.Contains(t, out.String(), "Spindrift SD4S")
	for _, part := range []string{"2400", "16GB", "EXTRA", "0815"} {
		assert.Contains(t, whole, part)
	}
}

func TestWideCharactersCountAsTwo(t *testing.T) {
	lines := plain(t, func(p *view.Page) {
		p.Table([]view.Column{{Title: "Name"}, {Title: "X"}}, [][]string{{"記憶", "1"}, {"abcd", "2"}})
	})
	assert.Equal(t, "記憶  1", lines[1])
	assert.Equal(t, "abcd  2", lines[2])
}

func TestColourIsNeverTheOnlySign(t *testing.T) {
	lay := func(p *view.Page) { p.Headline("One of two."); p.Foot("? not known") }
	coloured := strings.Join(page(t, view.Look{Width: 80, Colour: true}, lay), "\n")
	assert.Contains(t, coloured, "\x1b[")
	bare := strings.Join(plain(t, lay), "\n")
	assert.NotContains(t, bare, "\x1b")
	assert.Equal(t, bare, strings.NewReplacer("\x1b[1m", "", "\x1b[2m", "", "\x1b[0m", "").Replace(coloured))
}

func known[T comparable](v T, s fact.Standing) fact.Fact[T] {
	return fact.Of(v, s, fact.Support{Source: "firmware table 17", Says: "x"})
}

func twoPlaces(attach fact.Standing) machine.Machine {
	stick := &module.Module{Facts: module.Facts{Generation: known(jedec.DDR4, fact.Settled),
		Form: known(jedec.SODIMM, fact.Settled), Capacity: known(8*jedec.GiB, fact.Settled)}}
	m := machine.Machine{Generation: stick.Generation, Places: []machine.Place{
		{Name: "A", Attach: known(machine.Socket, attach), Filled: known(true, fact.Settled),
			Form: known(jedec.SODIMM, fact.Settled), Module: stick},
		{Name: "B", Attach: known(machine.Socket, fact.Settled), Filled: known(false, fact.Settled),
			Form: known(jedec.SODIMM, fact.Settled)},
	}}
	m.Totals = machine.Totals{Installed: known(8*jedec.GiB, fact.Settled), Sockets: known(2, attach),
		SocketsFree: known(1, attach), Soldered: known(jedec.Capacity(0), attach)}
	return m
}

func TestTheHeadlineSaysHowSureItIs(t *testing.T) {
	headline := func(m machine.Machine) string {
		return strings.Join(plain(t, func(p *view.Page) { p.Brief(m, fact.Fact[jedec.Capacity]{}, nil, nil, "") })[:2], " ")
	}
	assert.Contains(t, headline(twoPlaces(fact.Settled)), "One of two sockets free; takes DDR4 SO-DIMMs. 8 GB fitted.")
	assert.Contains(t, headline(twoPlaces(fact.Leaning)), "Likely: one of two sockets free")
	disputed := twoPlaces(fact.Settled)
	disputed.Totals.Sockets = fact.Contested[int](fact.Support{Source: "x", Says: "two are announced and one is listed"})
	assert.Contains(t, headline(disputed),
		"How many sockets there are is not settled: two are announced and one is listed.")
	assert.Contains(t, headline(machine.Machine{}), "No reading tells where this machine's memory sits.")
}

func TestTheFootExplainsJustTheMarksThatWereUsed(t *testing.T) {
	last := func(m machine.Machine) string {
		lines := plain(t, func(p *view.Page) { p.Brief(m, fact.Fact[jedec.Capacity]{}, nil, nil, "") })
		return lines[len(lines)-1]
	}
	m := twoPlaces(fact.Settled)
	m.Places[0].Module.Rated, m.Places[0].Running = known(jedec.Rate(2400), fact.Settled), known(jedec.Rate(2400),
		fact.Settled)
	m.Totals.StatedMaximum = known(32*jedec.GiB, fact.Settled)
	assert.NotContains(t, last(m), "settled")
	m.Places[0].Module.Rated = known(jedec.Rate(2400), fact.Leaning)
	assert.Equal(t, "~ likely, not settled", last(m))
	m.Places[0].Running = fact.Contested[jedec.Rate]()
	assert.Equal(t, "~ likely, not settled   ≠ sources contradict each other", last(m))
}

func TestAbsentFactsAreNullNeverZero(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, view.WriteJSON(&b,
		view.BriefJSON(machine.Machine{Places: []machine.Place{{Name: "A", Module: &module.Module{}}}},
			fact.Fact[jedec.Capacity]{}, nil)))
	var out struct {
		Totals map[string]struct {
			Value    any
			Standing string
			Why      []any
		}
		Places []struct {
			Module map[string]struct{ Value any }
		}
		Conflicts, Open []any
	}
	require.NoError(t, json.Unmarshal(b.Bytes(), &out))
	for key, f := range out.Totals {
		assert.Nil(t, f.Value, key)
		assert.Equal(t, "unknown", f.Standing, key)
		assert.NotNil(t, f.Why, "%s: an empty list, not null", key)
	}
	for key, f := range out.Places[0].Module {
		assert.Nil(t, f.Value, key)
	}
	assert.NotNil(t, out.Conflicts)
	assert.NotNil(t, out.Open)
}

func TestSticksSideBySideMarkWhatDiffers(t *testing.T) {
	parse := func(s string) module.Module {
		x, err := module.Parse(s)
		require.NoError(t, err)
		return x
	}
	text := strings.Join(plain(t, func(p *view.Page) {
		p.Facing([]module.Module{parse("8GB 1Rx8 PC4-2400T-SA1-11"), parse("8GB 2Rx8 PC4-2400T-SB1-11")}, nil)
	}), "\n")
	assert.Contains(t, text, "Two sticks; they differ in 2 of")
	assert.Regexp(t, `≠  Ranks +1 +2`, text)
	assert.Regexp(t, `   Rate +2400 MT/s +2400 MT/s`, text)
}

func TestAConvertedFigureWithTwoReadingsShowsBoth(t *testing.T) {
	r, err := convert.From("800MHz", "")
	require.NoError(t, err)
	text := strings.Join(plain(t, func(p *view.Page) { p.Converted(r) }), "\n")
	assert.Less(t, strings.Index(text, "DDR2-800"), strings.Index(text, "DDR3-1600"))
	assert.Contains(t, text, "What settles it")
	for _, line := range strings.Split(text, "\n") {
		assert.LessOrEqual(t, utf8.RuneCountInString(line), 80, line)
	}
}

func TestTheLiveLineShowsWhatTheKernelShows(t *testing.T) {
	before := need.NewSample(0, 0).With(need.SwapIn, 100).With(need.MemoryStall, 0)
	now := need.NewSample(2*time.Second, 2*time.Second).With(need.Total, 8<<20).With(need.Available,
		2<<20).With(need.SwapIn, 300).With(need.MemoryStall, 500_000)
	assert.Equal(t, "in use  6.00 of 8.00 GB, waits 25.0 %, swap-in 100/s", view.WatchLine(now, before))
	assert.Equal(t, "watching", view.WatchLine(need.NewSample(time.Second, 0), before), "a kernel that shows nothing")
}

func TestChartsOfBothKinds(t *testing.T) {
	var series need.Series
	for i := range 90 {
		at := time.Duration(i) * time.Second
		series = append(series, need.NewSample(at, at).With(need.Total, 8<<20).With(need.Available,
			int64(8-i/30)<<20).With(need.MemoryStall, int64(i)*10_000))
	}
	var png, svg bytes.Buffer
	require.NoError(t, view.Chart(&png, series, false))
	assert.True(t, bytes.HasPrefix(png.Bytes(), []byte("\x89PNG")))
	require.NoError(t, view.Chart(&svg, series, true))
	assert.Contains(t, svg.String(), "<svg")
	assert.Contains(t, svg.String(), "waited for memory")
	for i := range series {
		series[i] = need.NewSample(series[i].At, 0).With(need.Total, 8<<20).With(need.Available, 4<<20)
	}
	require.NoError(t, view.Chart(&svg, series, true), "a kernel without pressure figures")
	require.Error(t, view.Chart(&svg, series[:1], true))
}

// A proof says first what it came to, and never claims more than it saw.
func TestAProofIsSaidFirst(t *testing.T) {
	figure := func(v float64) prove.Figure { return prove.Figure{Median: v, Spread: 0.02} }
	sound := bench.Proof{Threads: 4, Read: figure(17200), Write: figure(11800), Copy: figure(12100),
		Latency: figure(92.4), Covered: 6 << 30, Of: 8 << 30, Passes: 1, LargePages: true}
	lines := strings.Join(plain(t, func(p *view.Page) { p.Proof(sound) }), "\n")
	assert.Contains(t, lines, "Sound: 6.0 GB of memory, 75 % of what the system has, read back as written in")
	assert.Contains(t, lines, "12.1 GB/s")
	assert.NotContains(t, lines, "large pages")
	faulty := sound
	faulty.Faults, faulty.Busy, faulty.LargePages, faulty.MoreFaults = []prove.Fault{{Offset: 4096, Pattern: "random",
		Wrote: 1, Read: 3, Again: true}}, true, false, 12
	lines = strings.Join(plain(t, func(p *view.Page) { p.Proof(faulty) }), "\n")
	for _, part := range []string{"Faults: 13 words", "0x000001000, random: wrote", "one bit wrong", "and 12 more",
		"prove each", "Others were at work", "large pages"} {
		assert.Contains(t, lines, part)
	}
	stopped := sound
	stopped.Passes = 0
	assert.Contains(t, plain(t, func(p *view.Page) { p.Proof(stopped) })[0], "Nothing is proved")

	for says, s := range map[string]bench.Speed{
		"1.80 times as fast as before (within 0.05); 2.00 were": {Ratio: 1.8, Off: 0.05, Predicted: 2},
		"the modules may sit on one channel":                    {Ratio: 1.01, Off: 0.05, Predicted: 2},
		"as fast as before (1.01, within 0.05).":                {Ratio: 1.01, Off: 0.05, Predicted: 1},
		"slower: 0.60 times":                                    {Ratio: 0.6, Off: 0.05},
	} {
		text := strings.Join(strings.Fields(strings.Join(plain(t, func(p *view.Page) { p.Faster(s, "") }), " ")), " ")
		assert.Contains(t, text, says)
	}
}
