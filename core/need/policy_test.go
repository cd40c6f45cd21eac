package need_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
)

func TestTheBuiltInPolicyIsUsable(t *testing.T) {
	p := need.BuiltIn()
	assert.Equal(t, 25, p.Headroom)
	for _, u := range p.Uses {
		assert.NotEmpty(t, u.Why, u.Name)
	}
}

func TestWrongPoliciesAreRefusedWithTheEntry(t *testing.T) {
	text := string(need.BuiltInText())
	for says, change := range map[string][2]string{
		"headroom_percent: 300": {"headroom_percent: 25", "headroom_percent: 300"},
		"epitome-policy: 2":     {"epitome-policy: 1", "epitome-policy: 2"},
		`uses: "office"`:        {"{name: office, first_mb: 768", "{name: office, first_mb: -768"},
		`uses: "vm"`: {"{name: vm, first_mb: 4096, each_mb: 4096, counts: machines, why: \"a guest with a " +
			"desktop of its own\"", "{name: vm, first_mb: 4096, each_mb: 4096, counts: machines, why: \"\""},
		"totals_mb":                {"totals_mb: [512, 1024", "totals_mb: [1024, 512"},
		`there is no key "colour"`: {"headroom_percent: 25", "headroom_percent: 25\ncolour: blue"},
		"systems: the last entry":  {`{name: "", mb: 2560`, `{name: Other, mb: 2560`},
		"swapin_pages_per_second":  {"swapin_pages_per_second: 25", "swapin_pages_per_second: 0"},
		"elsewhere_percent":        {"elsewhere_percent: 30", "elsewhere_percent: 130"},
		"line":                     {"headroom_percent: 25", "headroom_percent: much"},
	} {
		spoilt := strings.Replace(text, change[0], change[1], 1)
		require.NotEqual(t, text, spoilt, says)
		_, err := need.ParsePolicy([]byte(spoilt))
		require.ErrorIs(t, err, need.ErrPolicy, says)
		assert.Contains(t, err.Error(), says)
	}
}

func TestUsesAreCounted(t *testing.T) {
	p := need.BuiltIn()
	uses, err := p.ParseUses("browsing, tabs=40,VM=2")
	require.NoError(t, err)
	require.Len(t, uses, 3)
	assert.Equal(t, 8*jedec.GiB, uses[2].Size())
	for in, says := range map[string]string{"sailing": "there is no use \"sailing\"; there are browsing, tabs",
		"tabs=-1": "1 to 1000", "vm=x": "1 to 1000", "vm,vm": "given twice"} {
		_, err := p.ParseUses(in)
		require.Error(t, err, in)
		assert.Contains(t, err.Error(), says)
	}
	uses, err = p.ParseUses("")
	require.NoError(t, err)
	assert.Empty(t, uses)
}

func answer(t *testing.T, uses, system string, bits int, have jedec.Capacity) need.Answer {
	t.Helper()
	p := need.BuiltIn()
	u, err := p.ParseUses(uses)
	require.NoError(t, err)
	return p.Size(need.Question{System: system, Bits: bits, Uses: u, Installed: maybe.If(have, have > 0)})
}

func TestSizing(t *testing.T) {
	a := answer(t, "browsing,office", "Microsoft Windows 10 Home", 64, 4*jedec.GiB)
	assert.Equal(t, maybe.Just(6*jedec.GiB), a.Recommended, "2560 + 1536 + 768 MB and a quarter")
	assert.Equal(t, maybe.Just(true), a.Helps)
	assert.Contains(t, a.Customer, "wants about 6 GB; it has 4 GB")
	a = answer(t, "browsing,office", "Microsoft Windows 10 Home", 64, 8*jedec.GiB)
	assert.Equal(t, maybe.Just(false), a.Helps)
	a = answer(t, "browsing", "Windows 11 Pro", 64, 0)
	assert.Equal(t, 4*jedec.GiB, a.Parts[0].Size, "the maker's stated minimum is the floor")
	assert.False(t, a.Helps.Known(), "without knowing what is fitted nothing is said of more")
	a = answer(t, "vm=3,development", "Windows 7 Home Basic", 64, 8*jedec.GiB)
	assert.Contains(t, a.Warnings[0], "uses at most 8 GB")
	a = answer(t, "video", "Windows 10 Pro", 32, 4*jedec.GiB)
	assert.Contains(t, a.Warnings[len(a.Warnings)-1], "a 32-bit system sees 3 to 3.5 GB")
	a = answer(t, "", "Windows 10 Pro", 64, 4*jedec.GiB)
	assert.False(t, a.Recommended.Known(), "nothing named, nothing measured: nothing is made up")
	assert.Contains(t, a.Customer, "can't be said yet")
	a = answer(t, "browsing", "", 0, 0)
	assert.Contains(t, a.Warnings[0], "operating system is not known")
	a = answer(t, "vm=1000", "Linux", 64, 0)
	assert.Equal(t, maybe.Just(256*jedec.GiB), a.Recommended, "the largest total of the policy")
}

// FuzzParsePolicy reads any text as a sizing policy: what is accepted answers
// every question.
func FuzzParsePolicy(f *testing.F) {
	f.Add(need.BuiltInText())
	f.Fuzz(func(t *testing.T, text []byte) {
		p, err := need.ParsePolicy(text)
		if err != nil {
			return
		}
		for _, words := range []string{"browsing,tabs=40", "vm=2", "office"} {
			uses, err := p.ParseUses(words)
			if err == nil {
				p.Size(need.Question{System: "Windows 10 Home", Bits: 64, Uses: uses})
			}
		}
	})
}

// The customer's sentence knows where machine and system end.
func TestNeedKnowsWhereTheMachineEnds(t *testing.T) {
	p := need.BuiltIn()
	uses, err := p.ParseUses("browsing,tabs=40,office,games")
	require.NoError(t, err)
	for _, c := range []struct {
		have, reach jedec.Capacity
		bits        int
		helps       bool
		says        string
	}{
		{8 * jedec.GiB, 64 * jedec.GiB, 64, true, "wants about 24 GB; it has 8 GB."},
		{8 * jedec.GiB, 8 * jedec.GiB, 64, false, "it has 8 GB, and can't take more."},
		{8 * jedec.GiB, 16 * jedec.GiB, 64, true, "it has 8 GB, and goes to 16 GB, which helps but is not all."},
		{4 * jedec.GiB, 16 * jedec.GiB, 32, false, "its 32-bit system uses no more than 4 GB: a 64-bit system comes first."},
		{2 * jedec.GiB, 16 * jedec.GiB, 32, true, "it has 2 GB, and its 32-bit system uses no more than 4 GB."},
		{32 * jedec.GiB, 32 * jedec.GiB, 64, false, "which is enough for what you do"},
		{8 * jedec.GiB, 0, 64, true, "wants about 24 GB; it has 8 GB."},
	} {
		a := p.Size(need.Question{System: "Windows 10 Pro", Bits: c.bits, Uses: uses, Installed: maybe.Just(c.have),
			Reach: maybe.If(c.reach, c.reach > 0)})
		assert.Contains(t, a.Customer, c.says)
		assert.Equal(t, maybe.Just(c.helps), a.Helps, c.says)
	}
	odd := p.Size(need.Question{Uses: uses[:1], System: "Linux", Bits: 64})
	assert.NotEmpty(t, odd.Reasons)
}
