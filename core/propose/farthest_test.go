package propose

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/smbios/compose"
)

// How far a machine goes, with what set, how sure that is, and who ends it.
func TestHowFarAMachineGoes(t *testing.T) {
	two := []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "B1 B"}
	onBoard := func(sockets int) func(*rig) {
		return func(r *rig) {
			r.Places, r.Seen = nil, ""
			r.Devices = []compose.Device{{Locator: "Onboard", Bank: "P0 CHANNEL A", MiB: 8192, Type: 0x1A, Form: 0x0B,
				Speed: 2400}}
			r.Hand = "places: [{name: Onboard, attach: soldered}"
			if sockets > 0 {
				r.Devices = append(r.Devices, compose.Device{Locator: "B1", Bank: "P0 CHANNEL B"})
				r.Hand += ", {name: B1, attach: socket, takes: DIMM}"
			}
			r.Hand += "]\n"
		}
	}
	four := []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "A2 A", "B1 B", "B2 B"}
	with := func(change ...string) string { return strings.NewReplacer(change...).Replace(figures) }
	server := with("slots_per_channel: 2", "slots_per_channel: 3", "channels: 2", "channels: 4", "x4: no", "x4: yes",
		"ecc: none", "ecc: rdimm", "maximum: 64GB", "maximum: 768GB")
	var eight []string
	for i := range 8 {
		eight = append(eight, fmt.Sprintf("S%d %c|16GB 2Rx4 PC4-2400T-RA1-11", i, 'A'+i/2))
	}
	for _, c := range []struct {
		name  string
		rig   rig
		reach string
	}{
		{"the controller ends it", tower(figures, four, "Windows 10 Pro 64-bit"), "64 GB settled: 4 × 16 GB, by capacity"},
		{"its dies end it", tower(figures, two, ""), "32 GB settled: 2 × 16 GB, by per_slot"},
		{"no more is sold", tower(with("8Gbit", "16Gbit", "64GB", "256GB"), two, ""), "64 GB settled: 2 × 32 GB"},
		{"unlike modules come closest", tower(with("64GB", "24GB"), two, ""), "24 GB settled: 16 GB and 8 GB, by capacity"},
		{"soldered memory stays", tower(with("64GB", "20GB"), nil, "").With(onBoard(1)),
			"16 GB settled: 8 GB soldered and 8 GB, by capacity"},
		{"no socket", tower(figures, nil, "").With(onBoard(0)), "8 GB settled: all memory is soldered: it stays as it is"},
		{"firmware alone states a limit", tower("", four, "").With(func(r *rig) { r.MaximumMiB = 32 << 10 }),
			"16 GB leaning: 2 × 8 GB, open up to 128 GB"},
		{"more runs than is published", tower(figures+", maximum_that_runs: 128GB, die_that_runs: 16Gbit", four, ""),
			"128 GB leaning: 4 × 32 GB, certain up to 64 GB"},
		{"registered modules", tower(server, eight, ""), "256 GB leaning: 8 × 32 GB, open up to 768 GB"},
		{"nobody knows the processor, and firmware states nothing",
			tower("", two, "").With(func(r *rig) { r.MaximumMiB = 1 << 50 }), "not known, open up to 64 GB"},
		{"nothing known", rig{}, "not known: no place for memory is known"},
		{"what is fitted is more than is allowed", tower(with("64GB", "8GB"), []string{
			"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "B1 B|8GB 1Rx8 PC4-2400T-UA2-11"}, ""), "not known, open up to 32 GB"},
	} {
		m, l := c.rig.Machine(t)
		assert.Equal(t, c.reach, reachText(Farthest(m, l)), c.name)
	}
}

func reachText(r Reach) string {
	s := "not known"
	if size, ok := r.Size.Get(); ok {
		s = fmt.Sprintf("%v %v: %s", size, r.Size.Standing(), r.Size.Why()[0].Says)
	}
	if r.Missing != nil {
		s += ": " + r.Missing.Says
	}
	if by, ok := r.By.Get(); ok {
		s += ", by " + string(by.What)
	}
	if certain, ok := r.Certain.Get(); ok {
		s += fmt.Sprintf(", certain up to %v", certain)
	}
	if open, ok := r.Open.Get(); ok {
		s += fmt.Sprintf(", open up to %v", open)
	}
	return s
}

// A likely maximum says what it rests on.
func TestALikelyMaximumSaysWhatItRestsOn(t *testing.T) {
	m, l := tower(figures+", maximum_that_runs: 128GB, die_that_runs: 16Gbit", []string{"A1 A", "B1 B"}, "").Machine(t)
	r := Farthest(m, l)
	assert.Equal(t, fact.Leaning, r.Size.Standing())
	assert.NotEmpty(t, r.Size.Against())
	assert.Greater(t, r.Size.Or(0), 32*jedec.GiB)
}

func BenchmarkFarthest(b *testing.B) {
	server := strings.NewReplacer("slots_per_channel: 2", "slots_per_channel: 2", "channels: 2", "channels: 8", "x4: no",
		"x4: yes", "ecc: none", "ecc: rdimm", "maximum: 64GB", "maximum: 2TB").Replace(figures)
	var sixteen []string
	for i := range 16 {
		sixteen = append(sixteen, fmt.Sprintf("S%d %c|16GB 2Rx4 PC4-2400T-RA1-11", i, 'A'+i/2))
	}
	for name, r := range map[string]rig{"four sockets": fourSockets(), "sixteen registered": tower(server, sixteen, "")} {
		m, l := r.Machine(b)
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				Farthest(m, l)
			}
		})
	}
}
