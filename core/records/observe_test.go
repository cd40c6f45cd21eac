package records_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/maybe"
	"epitome/core/records"
)

// entered enters one fact and reads the entry back as a card holds it; err is what refuses it.
func entered(t *testing.T, fact, place, value string) (h records.Hand, err error) {
	t.Helper()
	h = records.Hand{Version: 1}
	if err := h.Observe(fact, place, value); err != nil {
		return h, err
	}
	text, err := h.Encode()
	require.NoError(t, err)
	return records.ParseHand(text)
}

// Every fact that can be observed, with values that it takes, at their bounds, and values that it does not.
func TestEveryFactThatCanBeObserved(t *testing.T) {
	limit := func(l records.HandLimit) string {
		if size, ok := l.Capacity().Get(); ok {
			return size.String()
		}
		return ""
	}
	for _, c := range []struct {
		fact, takes, refuses string // values apart by bars
		of                   func(records.Hand) string
	}{
		{"kind", "laptop|desktop|all-in-one|mini|server|other", "boat|Laptop",
			func(h records.Hand) string { return h.Machine["kind"] }},
		{"maker", "Wherry|W", "", func(h records.Hand) string { return h.Machine["maker"] }},
		{"model", "Plover 14", "", func(h records.Hand) string { return h.Machine["model"] }},
		{"board", "WP-14A", "", func(h records.Hand) string { return h.Machine["board"] }},
		{"processor", "Harbour One", "", func(h records.Hand) string { return h.Machine["processor"] }},
		{"chipset", "HB-7", "", func(h records.Hand) string { return h.Machine["chipset"] }},
		{"system", "Linux 64-bit", "", func(h records.Hand) string { return h.Machine["system"] }},
		{"maximum", "32 GB|512 MB|24 GB", "lots|0GB|-4GB", func(h records.Hand) string { return limit(h.Maximum) }},
		{"per slot", "16 GB|48 GB|128 MB", "17GB|lots|5GB", func(h records.Hand) string { return limit(h.PerSlot) }},
		{"distrust", "cim", "", func(h records.Hand) string { return strings.Join(h.Distrust, ",") }},
		{"rate", "3200|66|8533|2667", "fast|0|-1600|2500|12.5", func(h records.Hand) string { return fmt.Sprint(h.Rate) }},
		{"form", "DIMM|SO-DIMM|CAMM2", "brick", func(h records.Hand) string { return h.Takes }},
		{"supply", "1.35 V|1,2V|0.9|3.6v|1.5", "much|0.89|3.61 V|V", func(h records.Hand) string { return h.Supply }},
		{"slots a channel", "1|2|4", "5|-1|many", func(h records.Hand) string { return fmt.Sprint(h.SlotsAChannel) }},
		{"sockets", "1|2|64", "0|65|-1|two", func(h records.Hand) string { return fmt.Sprint(h.Sockets) }},
	} {
		for value := range strings.SplitSeq(c.takes, "|") {
			h, err := entered(t, c.fact, "", value)
			require.NoError(t, err, "%s=%s", c.fact, value)
			assert.Equal(t, value, c.of(h), c.fact)
		}
		for value := range strings.SplitSeq(c.refuses, "|") {
			if value == "" {
				continue
			}
			_, err := entered(t, c.fact, "", value)
			assert.ErrorIs(t, err, records.ErrHand, "%s=%s", c.fact, value)
		}
	}
	of := func(h records.Hand) records.HandPlace {
		require.Len(t, h.Places, 1)
		return h.Places[0]
	}
	for _, c := range []struct{ fact, takes, refuses string }{
		{"attach", "socket|soldered", "glued|Socket"}, {"takes", "DIMM|SO-DIMM|CAMM2", "brick"}, {"form", "SO-DIMM", "brick"},
		{"holds", "free|8GB 1Rx8 PC4-2400T-SA1-11", ""}, {"channel", "A|7", ""},
	} {
		for value := range strings.SplitSeq(c.takes, "|") {
			h, err := entered(t, c.fact, "A", value)
			require.NoError(t, err, "%s=%s", c.fact, value)
			assert.Contains(t, fmt.Sprintf("%+v", of(h)), value, c.fact)
		}
		for value := range strings.SplitSeq(c.refuses, "|") {
			if value != "" {
				_, err := entered(t, c.fact, "A", value)
				assert.ErrorIs(t, err, records.ErrHand, "%s=%s", c.fact, value)
			}
		}
	}
	machine, place := records.FactNames()
	assert.Len(t, machine, 15)
	assert.Equal(t, []string{"attach", "channel", "form", "holds", "takes"}, place)
	_, err := entered(t, "colour", "", "blue")
	assert.ErrorContains(t, err, `there is no fact "colour"; there are board, chipset`)
	_, err = entered(t, "maximum", "A", "8GB")
	assert.ErrorContains(t, err, `there is no fact "maximum" of a place; there are attach, channel`)
	for text, mv := range map[string]int{"1.35 V": 1350, "1,2v": 1200, " 1.5 ": 1500, "0.9": 900, "3.6": 3600} {
		assert.Equal(t, maybe.Just(mv), records.Hand{Supply: text}.MilliVolts(), text)
	}
}

// A place is named once, whatever the case, and facts of it come together.
func TestFactsOfOnePlaceComeTogether(t *testing.T) {
	var h records.Hand
	require.NoError(t, h.Observe("attach", "DIMM A", "socket"))
	require.NoError(t, h.Observe("holds", "dimm a", "free"))
	require.NoError(t, h.Observe("channel", "DIMM B", "B"))
	assert.Equal(t, []records.HandPlace{{Name: "DIMM A", Attach: "socket", Holds: "free"}, {Name: "DIMM B", Channel: "B"}},
		h.Places)
}

// How much one entry holds.
func TestBoundsOfAHandEntry(t *testing.T) {
	places := func(n, name int) string {
		var b strings.Builder
		b.WriteString("epitome-hand: 1\nplaces:\n")
		for i := range n {
			fmt.Fprintf(&b, "  - {name: %s}\n", fmt.Sprintf("%0*d", name, i))
		}
		return b.String()
	}
	_, err := records.ParseHand([]byte(places(256, 80)))
	assert.NoError(t, err)
	_, err = records.ParseHand([]byte(places(257, 3)))
	assert.ErrorContains(t, err, "more than 256")
	_, err = records.ParseHand([]byte(places(1, 81)))
	assert.ErrorContains(t, err, "longer than 80 characters")
	full := "epitome-hand: 1\n# "
	full += strings.Repeat("x", 128<<10-len(full))
	_, err = records.ParseHand([]byte(full))
	assert.NoError(t, err)
	_, err = records.ParseHand([]byte(full + "x"))
	assert.ErrorContains(t, err, "up to 128 are read")
	for _, source := range append([]string{""}, records.HandSources...) {
		_, err = records.ParseHand([]byte("epitome-hand: 1\nsource: '" + source + "'\n"))
		assert.NoError(t, err, source)
	}
	_, err = records.ParseHand([]byte("epitome-hand: 1\nsource: hearsay\n"))
	assert.ErrorContains(t, err, "it is one of sight, manual, label, maker, measured")
}
