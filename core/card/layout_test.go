package card

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/truth/effort"
)

const begin = "epitome-card: 1\nmade: 2026-11-23T09:00:00Z\n"

func TestACardInAnotherLayoutIsTheSameCard(t *testing.T) {
	c := Card{Made: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC), Title: "Gull 14", Readings: []Reading{
		{Kind: MemInfo, Source: "meminfo", How: "files", Taken: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC),
			Data: []byte("MemTotal: 1 kB\n\n  x\n")},
		{Kind: SPD, Source: "spd", How: "files", Taken: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC), Data: []byte{0, 1, 2}},
	}}
	text, err := c.Encode()
	require.NoError(t, err)
	_, err = laidOut(text)
	require.NoError(t, err, "what Encode writes is read the quick way")
	for name, other := range map[string]string{
		"mailed with other line ends": strings.ReplaceAll(string(text), "\n", "\r\n"),
		"with a mark before it":       "\uFEFF" + string(text),
		"with an editor's comment":    strings.Replace(string(text), "readings:\n", "readings:\n# mine\n", 1),
		"indented otherwise":          strings.Replace(string(text), "readings:\n", "readings:   \n", 1),
	} {
		got, err := Parse([]byte(other))
		require.NoError(t, err, name)
		assert.Equal(t, c, got, name)
	}
}

func TestACardHasBounds(t *testing.T) {
	effort.NotShort(t)
	tiny := "  - {kind: pci, source: x, how: files, taken: 2026-11-23T09:00:00Z}\n"
	for says, text := range map[string]string{
		"more than 4096 readings":      begin + "readings:\n" + strings.Repeat(tiny, 200_000),
		"it has 5000 readings":         begin + "readings: \n" + strings.Repeat(tiny, 5000),
		"is not laid out as this prog": begin + "readings: [" + strings.Repeat("{},", 1_000_000) + "]\n",
		"is not laid out as this":      begin + "readings:\n" + strings.Repeat("- a\n", 1_000_000),
		"no line epitome-card":         strings.Repeat("- a\n", 1_000_000),
	} {
		_, err := Parse([]byte(text))
		assert.ErrorContains(t, err, says)
	}
}

// FuzzLayouts holds the quick reader to the YAML library: where both read a
// text, they read the same.
func FuzzLayouts(f *testing.F) {
	f.Add([]byte(begin + "readings:\n  - kind: pci\n    source: \"x\"\n    how: files\n    taken: " +
		"2026-11-23T09:00:00Z\n    bytes: 3\n    sha256: ab\n    text: |2+\n      a\n\n      b\n"))
	f.Add([]byte(begin + "readings:\n  - kind: pci\n    base64: |2+\n      AAEC\n    text: |2+\n      x\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		quick, err := laidOut(text)
		if err != nil {
			return
		}
		slow, err := foreign(text)
		if err != nil {
			return
		}
		require.Equal(t, show(slow), show(quick))
	})
}

func show(f file) string {
	var b strings.Builder
	fmt.Fprintf(&b, "%+v\n", f.head)
	for _, e := range f.Readings {
		for _, p := range []*string{e.Text, e.Base64} {
			if p != nil {
				fmt.Fprintf(&b, "%q\n", *p)
			}
		}
		e.Text, e.Base64 = nil, nil
		fmt.Fprintf(&b, "%+v\n", e)
	}
	return b.String()
}
