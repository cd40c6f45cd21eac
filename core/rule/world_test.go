package rule_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/rule"
)

func dies(leads bool, values ...int) rule.Possible[int] {
	return rule.Possible[int]{Key: "density", Values: values, Leads: leads, Fact: "the die density",
		Look: "read its sticker"}
}

func most(leads bool, values ...int) rule.Possible[int] {
	return rule.Possible[int]{Key: "most", Values: values, Leads: leads, Fact: "the largest die", Look: "look it up"}
}

// fits is a rule with two needs.
func fits(have, limit rule.Possible[int]) rule.Reason {
	return rule.Ask(func(w *rule.World) rule.Said {
		if d, m := rule.Choose(w, have), rule.Choose(w, limit); d > m {
			return rule.Said{Outcome: rule.Refused, Says: "too dense"}
		} else if d == m {
			return rule.Said{Outcome: rule.Reduced, Says: "just so"}
		}
		return rule.Said{Outcome: rule.OK, Says: "fits"}
	})
}

func TestWorldsAreMerged(t *testing.T) {
	for _, c := range []struct {
		name        string
		have, limit rule.Possible[int]
		outcome     rule.Outcome
		depends     []string
	}{
		{"all is known", dies(false, 4), most(false, 8), rule.OK, nil},
		{"all is known, and it is too much", dies(false, 16), most(false, 8), rule.Refused, nil},
		{"open, and fits in every world", dies(false, 2, 4), most(false, 8, 16), rule.OK, nil},
		{"open, and fits in none", dies(false, 16, 32), most(true, 4, 8), rule.Refused, nil},
		{"fits as the evidence leans", dies(true, 4, 16), most(false, 8), rule.Likely, []string{"the die density"}},
		{"does not fit as the evidence leans", dies(true, 16, 4), most(false, 8), rule.Unlikely, []string{"the die density"}},
		{"leans to nothing", dies(false, 4, 16), most(false, 8), rule.Unproven, []string{"the die density"}},
		{"two that decide", dies(true, 4, 16), most(true, 8, 2), rule.Likely, []string{"the die density", "the largest die"}},
		{"one that leans, one that does not", dies(true, 4, 16), most(false, 8, 2), rule.Unproven,
			[]string{"the die density", "the largest die"}},
		{"a penalty in some worlds is that of the leading one", dies(true, 8, 4), most(false, 8), rule.Reduced, nil},
		{"a penalty where nothing leads is the worst", dies(false, 4, 8), most(false, 8), rule.Reduced, nil},
		{"no penalty where the evidence leans to none", dies(true, 4, 8), most(false, 8), rule.OK, nil},
	} {
		got := fits(c.have, c.limit)
		assert.Equal(t, c.outcome, got.Outcome, c.name)
		var names []string
		for _, d := range got.Depends {
			names = append(names, d.Fact)
			assert.NotEmpty(t, d.Look, c.name)
		}
		assert.ElementsMatch(t, c.depends, names, c.name)
	}
}

// Plain enumeration over all worlds is the reference.
func TestTheEngineAgreesWithPlainEnumeration(t *testing.T) {
	seed := uint32(1)
	pick := func(n int) int { seed = seed*1664525 + 1013904223; return int(seed>>16) % n }
	for range 2000 {
		have, limit := dies(pick(2) == 0), most(pick(2) == 0)
		for range 1 + pick(4) {
			have.Values = append(have.Values, 1+pick(12))
		}
		for range 1 + pick(4) {
			limit.Values = append(limit.Values, 1+pick(12))
		}
		runs, breaks := 0, 0
		for _, h := range have.Values {
			for _, l := range limit.Values {
				if h > l {
					breaks++
				} else {
					runs++
				}
			}
		}
		leads := (have.Leads || len(have.Values) == 1) && (limit.Leads || len(limit.Values) == 1)
		got := fits(have, limit).Outcome
		switch {
		case breaks == 0:
			require.True(t, got.Runs())
		case runs == 0:
			require.Equal(t, rule.Refused, got)
		case leads && have.Values[0] <= limit.Values[0]:
			require.Equal(t, rule.Likely, got)
		case leads:
			require.Equal(t, rule.Unlikely, got)
		default:
			require.Equal(t, rule.Unproven, got)
		}
	}
}

func TestAFactHasOneValueInAWorld(t *testing.T) {
	got := rule.Ask(func(w *rule.World) rule.Said {
		once := rule.Choose(w, dies(false, 4, 8))
		if again := rule.Choose(w, dies(false, 4, 8)); once != again {
			return rule.Said{Outcome: rule.Refused, Says: "differs from itself"}
		}
		return rule.Said{Outcome: rule.OK}
	})
	assert.Equal(t, rule.OK, got.Outcome)
}

func TestNoRuleDecidesWithoutDeciding(t *testing.T) {
	assert.Panics(t, func() { rule.Ask(func(*rule.World) rule.Said { return rule.Said{} }) })
	assert.Equal(t, "unasked", rule.Outcome(0).String())
	assert.Equal(t, rule.Verdict(rule.Unasked), rule.Sum(nil), "a verdict that nobody gave is none")
	assert.Equal(t, rule.No, rule.Sum([]rule.Reason{{Outcome: rule.OK}, {Outcome: rule.Refused}}))
}

func TestTooManyWorldsAreNeverAYes(t *testing.T) {
	got := rule.Ask(func(w *rule.World) rule.Said {
		for i := range 10 {
			p := dies(true, 1, 2, 3)
			p.Key += string(rune('a' + i))
			rule.Choose(w, p)
		}
		return rule.Said{Outcome: rule.OK, Says: "so far"}
	})
	assert.Equal(t, rule.Likely, got.Outcome)
}
