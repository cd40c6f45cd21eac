package evidence

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/card"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/smbios/compose"
	spdcompose "epitome/core/spd/compose"
)

// A truth is how a generated machine really is, and what its sources say of
// it: firmware that lies in one of the ways that firmware does, an EEPROM or
// none, eyes or none.
type truth struct {
	chassis  byte
	soldered bool   // the filled place
	lie      string // how firmware puts the filled place
	blank    bool   // serial and part number left blank
	chip     string // "none", "good", "blank", "bad": the EEPROM; a blank one has no identity of its own
	seen     string // "nobody", "right"
}

func (x truth) String() string {
	return fmt.Sprintf("chassis %#x, soldered %v, firmware %s, blank %v, EEPROM %s, seen by %s", x.chassis, x.soldered,
		x.lie, x.blank, x.chip, x.seen)
}

// card writes what the sources say.
func (x truth) card() card.Card {
	d := compose.Device{Handle: 1, Array: 0x1000, MiB: 8192, Type: 0x1A, Locator: "DIMM 0", Speed: 2400, Form: 0x0D}
	switch {
	case x.lie == "calls everything a module":
	case x.lie == "calls everything chips":
		d.Form = 0x0B
	case x.lie == "says unknown":
		d.Form = 0x02
	case x.soldered:
		d.Form = 0x0B
	}
	if x.chassis == tower && !x.soldered && d.Form == 0x0D {
		d.Form = 0x09
	}
	if !x.blank {
		d.Serial, d.Part = "01010101", "MR-1"
	}
	c := bench(append(chassis(x.chassis), compose.Array(0x1000, 32<<20, 1), d.Structure())...)
	switch x.chip {
	case "good":
		c = withChips(c, map[string][]byte{"0-0050": chip("01010101", "MR-1")})
	case "blank":
		image := spdcompose.Image(chip("00000000", ""))
		c = withChips(c, map[string][]byte{"0-0050": image})
	case "bad":
		image := chip("01010101", "MR-1")
		image[4] = 0x84
		c = withChips(c, map[string][]byte{"0-0050": image})
	}
	if x.seen == "right" {
		c = hand(c, "places: [{name: DIMM 0, attach: "+string(x.attach())+"}]\n")
	}
	return c
}

func (x truth) attach() machine.Attach {
	if x.soldered {
		return machine.Soldered
	}
	return machine.Socket
}

// family is every combination that can be. The EEPROM of soldered memory, where
// there is one, carries no identity of its own though it may call itself a
// module; and nobody solders memory in a tower.
func family() (all []truth) {
	for _, chassis := range []byte{laptop, tower, 0x0D, 0x23, 0x02} {
		for _, soldered := range []bool{false, true} {
			for _, lie := range []string{"tells the truth", "calls everything a module", "calls everything chips",
				"says unknown"} {
				for _, blank := range []bool{false, true} {
					for _, chip := range []string{"none", "good", "blank", "bad"} {
						for _, seen := range []string{"nobody", "right"} {
							if soldered && (chip == "good" || chassis == tower) {
								continue
							}
							all = append(all, truth{chassis, soldered, lie, blank, chip, seen})
						}
					}
				}
			}
		}
	}
	return all
}

// Over the whole family no finding that is settled is false. The shares are
// printed with -v, and recorded in docs/evidence.md.
func TestNoSettledFindingIsFalse(t *testing.T) {
	var right, leaning, leansWrong, open int
	machines := family()
	for _, x := range machines {
		m := weighed(x.card())
		p := m.Places[0]
		got, known := p.Attach.Get()
		switch {
		case !known:
			open++
		case p.Attach.Standing() == fact.Settled:
			right++
			assert.Equal(t, x.attach(), got, "%v: settled, and false: for %v, against %v", x, p.Attach.Why(), p.Attach.Against())
		case got == x.attach():
			leaning++
		default:
			leansWrong++
			assert.NotContains(t, []string{"tells the truth", "says unknown"}, x.lie,
				"%v: leans wrong though firmware does not lie", x)
		}
		assert.Equal(t, 8*jedec.GiB, p.Module.Capacity.Or(0), "%v", x)
		if x.seen == "right" {
			assert.Equal(t, fact.Settled, p.Attach.Standing(), "%v: sight settles it", x)
		}
		if c := len(p.Attach.Why()) + len(p.Attach.Against()); known || p.Attach.Standing() == fact.Disputed {
			assert.Positive(t, c, "%v: no claim is lost", x)
		}
	}
	n := len(machines)
	t.Logf("%d machines: %d settled and right, %d leaning right, %d leaning wrong, %d open", n, right, leaning,
		leansWrong, open)
	assert.GreaterOrEqual(t, n, 300)
	assert.Less(t, leansWrong, n/6, "each lie is tried as often as the truth, so a leaning may be wrong; it never settles")
}
