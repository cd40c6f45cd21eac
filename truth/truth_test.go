package truth_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/evidence"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/reading"
	"epitome/truth"
	"epitome/truth/effort"
)

// Whatever is told of a machine is true: what its evidence settles is so.
func TestWhatIsToldIsTrue(t *testing.T) {
	for _, teller := range truth.Tellers {
		t.Run(teller.Name, func(t *testing.T) {
			for seed := range uint64(effort.Cases(200)) {
				m := truth.Chance(rand.New(rand.NewPCG(seed, 1)))
				got := evidence.Weigh(reading.Of(teller.Tell(m)), catalogue.Catalogue{})
				assert.Equal(t, m.Total(), got.Totals.Installed.Or(0), "machine %d: %+v", seed, m)
				if most, ok := got.Totals.StatedMaximum.Get(); ok {
					assert.Equal(t, m.Maximum(), most, "machine %d", seed)
				}
				for _, p := range got.Places {
					if p.Module != nil {
						assert.Equal(t, m.Processor.Generation, p.Module.Generation.Or(0), "machine %d, %s", seed, p.Name)
					}
					if rate, ok := p.Running.Get(); ok {
						assert.Equal(t, m.Rate(), rate, "machine %d, %s", seed, p.Name)
					}
				}
				soldered := 0
				for _, p := range got.Places {
					if p.Attach.Or("") == machine.Soldered {
						soldered++
					}
				}
				assert.Equal(t, len(m.Places)-len(m.Sockets()), soldered, "machine %d: %+v", seed, m)
				if t.Failed() {
					return
				}
			}
		})
	}
}

// Each module's label and image say what it is.
func TestModulesSayWhatTheyAre(t *testing.T) {
	for seed := range uint64(effort.Cases(400)) {
		for _, p := range truth.Chance(rand.New(rand.NewPCG(seed, 2))).Places {
			if p.Holds == nil || p.Soldered {
				continue
			}
			want := *p.Holds
			label, err := module.Parse(want.Label())
			require.NoError(t, err, want.Label())
			for how, got := range map[string]module.Module{"label": label, "image": image(t, want)} {
				if how == "image" && want.EEPROM() == nil {
					continue
				}
				assert.Equal(t, want.Size(), got.Capacity.Or(0), "%s of %s", how, want.Label())
				assert.Equal(t, want.Ranks, got.Ranks.Or(0), "%s of %s", how, want.Label())
				assert.Equal(t, want.Width, got.Width.Or(0), "%s of %s", how, want.Label())
				assert.Equal(t, want.Rate, got.Rated.Or(0), "%s of %s", how, want.Label())
			}
		}
	}
}

func image(t *testing.T, m truth.Module) module.Module {
	t.Helper()
	if m.EEPROM() == nil {
		return module.Module{}
	}
	got, err := module.FromImage("spd.bin", m.EEPROM())
	require.NoError(t, err)
	return got
}

// What reading and weighing a card costs, by who tells the machine.
func BenchmarkEvidenceOfACard(b *testing.B) {
	m := truth.Chance(rand.New(rand.NewPCG(4, 1)))
	for _, teller := range truth.Tellers {
		c := teller.Tell(m)
		b.Run(teller.Name, func(b *testing.B) {
			for b.Loop() {
				evidence.Weigh(reading.Of(c), catalogue.Catalogue{})
			}
		})
	}
}
