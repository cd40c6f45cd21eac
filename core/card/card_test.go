package card_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func sample() card.Card {
	return card.Card{Made: noon, Title: "for Jory: the \"old\" one # 3", Readings: []card.Reading{
		{Kind: card.Table, Source: "/sys/firmware/dmi/tables/DMI", How: "live", Taken: noon,
			Data: []byte{0, 1, 2, 0xFF, 0x0D, 0x0A, 0}},
		{Kind: card.MemInfo, Source: "usb/meminfo", How: "files", Taken: noon,
			Data: []byte("MemTotal: 1 kB\n\n  indented\ttabs, trailing blanks  \n# no comment\n--- \n\n")},
		{Kind: card.CPUInfo, Source: "x", How: "files", Taken: noon, Data: []byte("cut in the mid")},
		{Kind: card.VMStat, Source: "x", How: "files", Taken: noon, Data: []byte("carriage\r\nreturns\r\n")},
		{Kind: card.SPD, Source: "0-0050", How: "live", Taken: noon, Address: "0-0050",
			Failure: "the chip did not answer (ENXIO)"},
		{Kind: card.PCI, Source: "x", How: "files", Taken: noon, Data: []byte("\n")},
	}}
}

func TestACardComesBackAsItWas(t *testing.T) {
	text, err := sample().Encode()
	require.NoError(t, err)
	got, err := card.Parse(text)
	require.NoError(t, err)
	assert.Equal(t, sample(), got)
	again, err := got.Encode()
	require.NoError(t, err)
	assert.Equal(t, string(text), string(again), "the same card yields the same bytes")
	assert.Contains(t, string(text), "\n      MemTotal: 1 kB\n", "texts can be read in an editor")
	for line := range strings.Lines(string(text)) {
		assert.LessOrEqual(t, len(line), 120, "lines survive mail")
	}
}

func TestOfLeavesOutReadingsWithoutBytes(t *testing.T) {
	assert.Empty(t, sample().Of(card.SPD))
	assert.Len(t, sample().Of(card.Table), 1)
}

func TestDamageOnTheWay(t *testing.T) {
	text, err := sample().Encode()
	require.NoError(t, err)
	for says, spoilt := range map[string]string{
		"its sum differs":          strings.Replace(string(text), "MemTotal: 1 kB", "MemTotal: 2 kB", 1),
		"changed since it was tak": strings.Replace(string(text), "trailing blanks  \n", "trailing blanks\n", 1),
		"base64 is broken":         strings.Replace(string(text), "AAEC/w0KAA==", "AAEC/w0K!A==", 1),
	} {
		require.NotEqual(t, string(text), spoilt)
		c, err := card.Parse([]byte(spoilt))
		require.NoError(t, err, "one bad reading does not take the card with it")
		require.Len(t, c.Damage, 1)
		assert.Contains(t, c.Damage[0], says)
		again, err := c.Encode()
		require.NoError(t, err)
		reread, err := card.Parse(again)
		require.NoError(t, err)
		assert.Equal(t, c.Damage, reread.Damage, "writing the card neither heals the damage nor loses what is left")
		assert.Len(t, reread.Readings, len(sample().Readings))
	}
}

func TestWhatIsNoCard(t *testing.T) {
	for _, text := range []string{"", "hello", "- a\n- b\n", "epitome-card: zero\n", "epitome-card: 0\n", "{",
		"\x00\x01\x02", "a: &a [*a]"} {
		_, err := card.Parse([]byte(text))
		assert.Error(t, err, "%q", text)
		assert.NotContains(t, err.Error(), "yaml:", "%q", text)
	}
	_, err := card.Parse([]byte("dear: Jory\n"))
	require.ErrorIs(t, err, card.ErrNotCard)
	_, err = card.Parse(make([]byte, card.MaxSize+1))
	require.ErrorIs(t, err, card.ErrNotCard)
}

func TestANewerCardIsRefusedForThat(t *testing.T) {
	_, err := card.Parse([]byte("epitome-card: 2\nwhatever: {came: later}\n"))
	require.ErrorIs(t, err, card.ErrNewer)
	assert.Contains(t, err.Error(), "says epitome-card: 2, this program reads up to 1")
}

func TestUnknownAndContradictoryKeysAreRefused(t *testing.T) {
	const head = "epitome-card: 1\nmade: 2026-11-23T09:00:00Z\n"
	for text, says := range map[string]string{
		head + "colour: blue\nreadings: []\n":                              `line 3: there is no key "colour"`,
		head + "readings:\n  - kind: tarot\n":                              `unknown kind "tarot"`,
		head + "readings:\n  - kind: pci\n    text: x\n":                   "has bytes but no sha256",
		head + "readings:\n  - kind: pci\n    text: x\n    base64: eA==\n": "both text and base64",
		head + "readings: []\n---\nepitome-card: 1\n":                      "one file holds one card",
		head + "readings:\n  - kind: pci\n    taken: yesterday\n":          "yesterday",
		head + "readings:\n  - {kind: pci, text: &a \"x\", source: *b}\n":  "unknown anchor",
	} {
		_, err := card.Parse([]byte(text))
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), says)
	}
}

func FuzzParse(f *testing.F) {
	text, err := sample().Encode()
	require.NoError(f, err)
	f.Add(text)
	f.Add([]byte("epitome-card: 1\nmade: 2026-11-23T09:00:00Z\nreadings: [{kind: pci, bytes: 3}]\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		c, err := card.Parse(text)
		if err != nil {
			return
		}
		again, err := c.Encode()
		require.NoError(t, err)
		reread, err := card.Parse(again)
		require.NoError(t, err, "%s", again)
		assert.Equal(t, c, reread)
	})
}
