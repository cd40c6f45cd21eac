package card_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
)

// A reading of each kind is kept and read back; one of no kind is not.
func TestEachKindIsReadBack(t *testing.T) {
	for _, kind := range []card.Kind{card.EntryPoint, card.Table, card.TableFile, card.SPD, card.CPUInfo, card.MemInfo,
		card.VMStat, card.Pressure, card.PCI, card.CIM, card.Panel, card.Series, card.Hand, card.Plan, card.Outcome,
		card.Proof} {
		c := card.Card{Made: noon, Readings: []card.Reading{{Kind: kind, Source: "x", How: "files", Taken: noon,
			Data: []byte("a line\n")}}}
		text, err := c.Encode()
		require.NoError(t, err)
		again, err := card.Parse(text)
		require.NoError(t, err, kind)
		assert.Equal(t, c, again)
	}
	text, err := card.Card{Made: noon, Readings: []card.Reading{{Kind: "tide", Source: "x", Taken: noon}}}.Encode()
	require.NoError(t, err)
	_, err = card.Parse(text)
	assert.ErrorContains(t, err, `unknown kind "tide"`)
}
