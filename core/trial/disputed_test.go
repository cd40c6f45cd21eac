package trial

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/module"
	"epitome/core/rule"
)

// Two readings of one module that contradict each other are both tried: what
// neither of them breaks runs, what one of them breaks is not proved, and what both
// break is refused.
func TestADisputedFactStaysDisputed(t *testing.T) {
	for _, c := range []struct {
		name, one, other string
		weigh            [2]fact.Weight
		rule             string
		outcome          rule.Outcome
	}{
		{"ranks, with dies that the controller addresses or not", "16GB 2Rx8 PC4-2400T-UB1-11",
			"16GB 1Rx8 PC4-2400T-UA2-11", [2]fact.Weight{fact.Prime, fact.Label}, "density", rule.Unproven},
		{"the same, where one reading weighs more", "16GB 2Rx8 PC4-2400T-UB1-11", "16GB 1Rx8 PC4-2400T-UA2-11",
			[2]fact.Weight{fact.Label, fact.Firm}, "density", rule.Likely},
		{"the same, where one reading weighs nothing", "16GB 2Rx8 PC4-2400T-UB1-11", "16GB 1Rx8 PC4-2400T-UA2-11",
			[2]fact.Weight{fact.Prime, fact.Hint}, "density", rule.OK},
		{"ranks, either way with dies that it addresses", "8GB 2Rx8 PC4-2400T-UB1-11", "8GB 1Rx8 PC4-2400T-UA2-11",
			[2]fact.Weight{fact.Prime, fact.Label}, "density", rule.OK},
		{"buffering", "8GB 1Rx8 PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2400T-RA2-11", [2]fact.Weight{fact.Prime, fact.Label},
			"buffering", rule.Unproven},
		{"check bits", "8GB 1Rx8 PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2400T-EA2-11", [2]fact.Weight{fact.Prime, fact.Label},
			"ecc", rule.Unproven},
	} {
		pair := sticks(t, c.one, c.other)
		both := module.Join(pair[0].Claimed(c.weigh[0], "EEPROM"), pair[1].Claimed(c.weigh[1], "sticker"))
		got := try(t, desktop(), Plan{Pull: []string{"A1"}, Sticks: []module.Module{both}})
		outcome, says := outcomeOf(got, c.rule)
		assert.Equal(t, c.outcome, outcome, "%s: %s", c.name, says)
	}
}
