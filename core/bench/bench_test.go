package bench_test

import (
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/smbios/compose"
)

func laptop() card.Card {
	table := compose.Table(append(compose.Identity{Maker: "Halyard", Product: "Gull 14", ChassisKind: 0x0A}.Structures(),
		compose.Array(0x1000, 32<<20, 2),
		compose.Device{Handle: 1, Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: "DIMM A",
			Speed: 2400}.Structure(),
		compose.Device{Handle: 2, Array: 0x1000, Form: 0x0D, Locator: "DIMM B"}.Structure())...)
	return card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: table}}}
}

func ExampleBench() {
	b := bench.New(laptop(), catalogue.Catalogue{})
	installed, _ := b.Machine().Totals.Installed.Get()
	result, _ := b.Propose(propose.Goal{Reach: maybe.Just(16 * jedec.GiB)}, nil)
	fmt.Println(installed, "fitted; buy", result.Proposals[0].Buys[0].Text)
	// Output: 8 GB fitted; buy 8 GB DDR4-2400 SO-DIMM 1Rx8
}

func TestOneCardAlwaysYieldsTheSameMachine(t *testing.T) {
	b := bench.New(laptop(), catalogue.Catalogue{})
	assert.Equal(t, b.Machine(), b.Machine())
	assert.Equal(t, b.Machine(), bench.New(laptop(), catalogue.Catalogue{}).Machine())
}

func TestTheMachineAnswersWhatTheQuestionLeavesOpen(t *testing.T) {
	c := laptop()
	c.Readings = append(c.Readings, card.Reading{Kind: card.CIM, Source: "cim.json",
		Data: []byte(`{"CreationClassName":"CIM_OperatingSystem","Caption":"Windows 7 Home Basic","OSArchitecture":"32-bit",
"TotalVisibleMemorySize":3000000,"FreePhysicalMemory":100000}`)})
	b := bench.New(c, catalogue.Catalogue{})
	policy := need.BuiltIn()
	uses, err := policy.ParseUses("vm=2")
	require.NoError(t, err)
	a := b.Need(policy, need.Question{Uses: uses})
	assert.Equal(t, "Windows 7 Home Basic 32-bit", a.Parts[0].What)
	assert.Contains(t, fmt.Sprint(a.Warnings), "uses at most 4 GB")
	assert.Contains(t, fmt.Sprint(a.Warnings), "a 32-bit system sees 3 to 3.5 GB")
	series, missing := b.Series()
	assert.Len(t, series, 1, "the management object is one look")
	assert.Empty(t, missing)
}

func TestTheLatestWatchIsTheOneThatCounts(t *testing.T) {
	data, err := os.ReadFile("../../testdata/series/short.card")
	require.NoError(t, err)
	c, err := card.Parse(data)
	require.NoError(t, err)
	later := need.Series{need.NewSample(0, 0).With(need.Total, 1000)}
	c.Readings = append(c.Readings, card.Reading{Kind: card.Series, Source: "later", Data: later.Encode()},
		card.Reading{Kind: card.Series, Source: "broken", Data: []byte("when,what\n")})
	series, missing := bench.New(c, catalogue.Catalogue{}).Series()
	assert.Equal(t, later, series)
	require.Len(t, missing, 1)
	assert.Contains(t, missing[0], "broken: series can't be read")
}

func TestWhatWasNotKeptIsSaid(t *testing.T) {
	b := bench.New(laptop(), catalogue.Catalogue{})
	_, _, err := b.Kept(0)
	require.ErrorIs(t, err, bench.ErrNoPlan)
	r, err := b.Propose(propose.Goal{Reach: maybe.Just(16 * jedec.GiB)}, nil)
	require.NoError(t, err)
	first, err := bench.Find(r, 1)
	require.NoError(t, err)
	assert.Equal(t, r.Proposals[0].Cost, first.Cost)
	_, err = bench.Find(r, 99)
	require.ErrorContains(t, err, "there is no proposal 99")
}

func TestTheBenchAnswersHowFar(t *testing.T) {
	b := bench.New(laptop(), catalogue.Catalogue{})
	assert.Equal(t, rule.Works, b.MayReach(16*jedec.GiB).Verdict)
	assert.True(t, bench.Refuses(b.MayReach(1024*jedec.GiB).Verdict))
	assert.Equal(t, rule.No, b.MayRun(9999).Verdict)
	assert.Equal(t, rule.CannotTell, bench.New(card.Card{}, catalogue.Catalogue{}).MayReach(8*jedec.GiB).Verdict)
}

// A card says why the firmware tables are not on it, where somebody tried to read them.
func TestWhyTheTablesAreMissing(t *testing.T) {
	denied := card.Reading{Kind: card.Table, Source: "DMI", Failure: "permission denied"}
	for name, c := range map[string]struct {
		readings []card.Reading
		want     string
	}{
		"nobody tried":       {nil, ""},
		"it was not allowed": {[]card.Reading{denied}, "permission denied"},
		"something else failed": {[]card.Reading{{Kind: card.SPD, Source: "i2c", Failure: "no such bus"}, denied},
			"permission denied"},
		"only something else failed": {[]card.Reading{{Kind: card.SPD, Source: "i2c", Failure: "no such bus"}}, ""},
		"it was read":                {[]card.Reading{{Kind: card.Table, Source: "DMI", Data: []byte{1}}}, ""},
		"it was read the second time": {[]card.Reading{denied, {Kind: card.Table, Source: "DMI", Data: []byte{1}}},
			""},
	} {
		b := bench.Bare(bench.NewCard(time.Unix(0, 0), "", c.readings))
		assert.Equal(t, c.want, b.TableFailed(), name)
	}
}
