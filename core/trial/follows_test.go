package trial

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
	"epitome/core/rule"
	spd "epitome/core/spd/compose"
)

// eepromOf is the image of an ordinary module of one rank of x8 chips, of the first
// place of a rig.
func eepromOf(mib int) []byte {
	return spd.DDR4{Type: 2, DensityCode: map[int]byte{8192: 5, 16384: 6}[mib], Ranks: 1, WidthCode: 1, TCK: 833,
		TAA: 13750, TRCD: 13760, TRP: 13770, TRAS: 32000, TRC: 45770,
		FirstCL: 10, LastCL: 18, Height: 31,
		Identity: spd.Identity{Maker: jedec.MakerCode{Bank: 1, Code: 0x4E}, Part: "MR4", Serial: "0A0B0C00", Year: 0x21,
			Week: 0x10}}.Bytes()
}

// What evidence answers is not left open: of each fact, how it stands where the
// modules have no EEPROM, and where they have.
func TestWhatFollowsFromTheEvidence(t *testing.T) {
	bare := desktop().With(func(r *rig) {
		r.Hand, r.Takes = "machine: {system: Windows 10 Pro 64-bit}\n", "generation: DDR4, channels: 2, "+
			"slots_per_channel: 2, rate: 2400, rate_two_modules: 2133"
	})
	with := func(r rig, more string) rig { r.Takes += more; return r }
	const same, double = "8GB 1Rx8 PC4-2400T-UA2-11", "16GB 1Rx8 PC4-2400T-UA2-11"
	for _, c := range []struct {
		name          string
		rig           rig
		stick, rule   string
		without, read rule.Outcome // by firmware alone, and with the EEPROM
	}{
		{"the form of the sockets is that of what runs there", bare, same, "form", rule.OK, rule.OK},
		{"and no other", bare, "8GB 1Rx8 PC4-2400T-SA2-11", "form", rule.Refused, rule.Refused},
		{"the buffering", bare, same, "buffering", rule.OK, rule.OK},
		{"and no other", bare, "8GB 1Rx8 PC4-2400T-RA2-11", "buffering", rule.Refused, rule.Refused},
		{"the supply", bare, same, "supply", rule.OK, rule.OK},
		{"the chips, which nobody states", bare, same, "chip-width", rule.OK, rule.OK},
		{"x16 where the row says yes of x16, and nothing of x4", with(bare, ", x16: yes"), "4GB 1Rx16 PC4-2400T-UC0-11",
			"chip-width", rule.OK, rule.OK},
		{"x16 where it says no", with(bare, ", x16: no"), "4GB 1Rx16 PC4-2400T-UC0-11", "chip-width", rule.Refused,
			rule.Refused},
		{"x16 where the row says nothing", bare, "4GB 1Rx16 PC4-2400T-UC0-11", "chip-width", rule.Unproven, rule.Unproven},
		{"the dies are no denser than those that run there", bare, same, "density", rule.OK, rule.OK},
		{"denser ones, which nobody states, and no maximum speaks for", with(bare, ", maximum: 32GB"), double, "density",
			rule.Unproven, rule.Unproven},
		{"the same with a published maximum of four such modules", with(bare, ", maximum: 128GB"), double, "density",
			rule.OK, rule.OK},
		{"the size of what runs there", bare, same, "per-slot", rule.OK, rule.OK},
		{"more of it", with(bare, ", maximum: 64GB"), double, "per-slot", rule.OK, rule.OK},
	} {
		for _, eeprom := range []bool{false, true} {
			r, want := c.rig, c.without
			if eeprom {
				r.EEPROMs = [][]byte{eepromOf(8192)}
				want = c.read
			}
			got, says := outcomeOf(try(t, r, Plan{Sticks: sticks(t, c.stick)}), c.rule)
			assert.Equal(t, want.String(), got.String(), "%s, EEPROM %v: %s", c.name, eeprom, says)
		}
	}
}

// What a machine is softly said to take, and what runs in it, leave no other buffering open; check bits stay so.
func TestWhatIsSaidAndRunsLeavesNoOtherBuffering(t *testing.T) {
	said := desktop().With(func(r *rig) {
		r.Takes = strings.Replace(r.Takes, "ecc: none, ", "", 1)
		r.Board = "ecc: none, confidence: medium"
	})
	runsECC := said.With(func(r *rig) { r.Hand = strings.Replace(r.Hand, label, "8GB 1Rx8 PC4-2400T-EA1-11", 1) })
	empty := said.With(func(r *rig) {
		r.Places, r.Hand = slices.Clone(r.Places), strings.Replace(r.Hand, ", holds: "+label, "", 1)
		r.Places[0] = "A1 A 0 0"
	})
	for _, c := range []struct {
		rig         rig
		stick, rule string
		want        rule.Outcome
	}{
		{said, label, "buffering", rule.OK},
		{said, "16GB 2Rx4 PC4-2400T-RA1-11", "buffering", rule.Refused},
		{said, "32GB 4DRx4 PC4-2133P-LA0-10", "buffering", rule.Refused},
		{said, "8GB 1Rx8 PC4-2400T-EA1-11", "buffering", rule.OK},
		{said, "8GB 1Rx8 PC4-2400T-EA1-11", "ecc", rule.Likely},
		{runsECC, "16GB 2Rx4 PC4-2400T-RA1-11", "buffering", rule.Refused},
		{empty, "16GB 2Rx4 PC4-2400T-RA1-11", "buffering", rule.Unlikely},
		{empty, label, "buffering", rule.OK},
	} {
		plan := Plan{Sticks: sticks(t, c.stick)}
		if c.rig.Places[0] != empty.Places[0] {
			plan.Pull = []string{"A1"}
		}
		got, says := outcomeOf(try(t, c.rig, plan), c.rule)
		assert.Equal(t, c.want.String(), got.String(), "%s, %s of %s", says, c.rule, c.stick)
	}
}

// What a shop sells for servers is registered, if it does not say otherwise: no technician buys it for a desktop.
func TestWhatIsForServersIsRegistered(t *testing.T) {
	for text, want := range map[string]rule.Outcome{
		"8GB DDR4-2400 DIMM": rule.OK, "8GB DDR4-2400 DIMM server": rule.Unlikely,
		"8GB DDR4-2400 ECC DIMM server": rule.Unlikely, "8GB DDR4-2400 non-ECC DIMM server": rule.OK,
		"8GB DDR4-2400 unbuffered DIMM server": rule.OK, "8GB DDR4-2400 DIMM desktop server": rule.OK,
		"8GB DDR4-2400 DIMM not for server": rule.OK, "8GB DDR4-2400 registered DIMM server": rule.Refused,
	} {
		got, says := outcomeOf(try(t, desktop(), Plan{Sticks: sticks(t, text)}), "buffering")
		assert.Equal(t, want.String(), got.String(), "%s: %s", text, says)
	}
}

// What runs there today is not on trial: no reason speaks of it but of the whole.
func TestWhatRunsIsNotTriedAgain(t *testing.T) {
	for _, r := range []rig{desktop(), desktop().With(func(r *rig) { r.Hand, r.Takes = "", "generation: DDR4" }),
		desktop().With(func(r *rig) { r.EEPROMs = [][]byte{eepromOf(8192)} })} {
		got := try(t, r, Plan{Profile: false})
		for _, x := range got.Reasons {
			for _, known := range Rules() {
				assert.False(t, known.ID == x.Rule && known.Scope == EachModule, "%s: %s", x.Rule, x.Says)
			}
		}
	}
}

// One channel of one socket has nothing to interleave, and costs nothing.
func TestOneChannelHasNothingToInterleave(t *testing.T) {
	one := rig{Takes: "generation: DDR4, channels: 1, slots_per_channel: 1, rate: 2400, maximum: 16GB, largest_die: " +
		"8Gbit, ecc: none", Places: []string{"A1 A 8192 2400"}, Type: 0x1A, Form: 0x0D, Chassis: 0x0A,
		Hand: "machine: {system: Windows 10 Pro 64-bit}\nplaces: [{name: A1, attach: socket}]\n"}
	got := try(t, one, Plan{Pull: []string{"A1"}, Sticks: sticks(t, "16GB 2Rx8 PC4-2400T-SA2-11")})
	outcome, says := outcomeOf(got, "pairing")
	assert.Equal(t, rule.OK, outcome, says)
	assert.Equal(t, rule.Works, got.Verdict)
}

// Low-power memory of the fifth generation and its faster kind share a firmware
// code: the code does not tell which of them a machine takes.
func TestTheFifthLowPowerGenerationsShareACode(t *testing.T) {
	r := rig{Takes: "generation: LPDDR5, rate: 6400", Places: []string{"C0 A 16384 6400"}, Type: 0x23, Form: 0x11,
		Chassis: 0x0A, Hand: "places: [{name: C0, attach: socket, takes: LPCAMM2}]\n"}
	for text, want := range map[string]rule.Outcome{"32GB LPDDR5X-7500 LPCAMM2": rule.OK,
		"32GB LPDDR5-6400 LPCAMM2": rule.OK, "32GB DDR5-5600 CAMM2": rule.Refused} {
		outcome, says := outcomeOf(try(t, r, Plan{Pull: []string{"C0"}, Sticks: sticks(t, text)}), "same-generation")
		assert.Equal(t, want, outcome, "%s: %s", text, says)
	}
}

// To DDR3 makers publish one figure for all ways of filling a channel.
func TestOnePublishedRateHoldsForTwoModules(t *testing.T) {
	r := rig{Takes: "generation: DDR3, channels: 2, slots_per_channel: 2, rate: 1333, maximum: 32GB, largest_die: " +
		"4Gbit, ecc: none, volts: 1.5", Type: 0x18, Form: 0x09, Chassis: 0x03,
		Places: []string{"A1 A 4096 1333", "A2 A 0 0", "B1 B 4096 1333", "B2 B 0 0"},
		Hand: "machine: {system: Windows 10 Pro 64-bit}\nplaces: [{name: A1, attach: socket}, {name: A2, attach: " +
			"socket}, {name: B1, attach: socket}, {name: B2, attach: socket}]\n"}
	got := try(t, r, Plan{Sticks: sticks(t, "2x4GB DDR3-1333 DIMM 1Rx8 CL9 1.5V non-ECC unbuffered")})
	p, ok := got.Operating.Get()
	assert.True(t, ok, got.Why)
	assert.Equal(t, jedec.Rate(1333), p.Grade.Rate)
}
