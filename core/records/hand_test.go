package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/records"
)

func TestTheBlankTemplateIsAnEmptyEntry(t *testing.T) {
	h, err := records.ParseHand([]byte(records.HandTemplate()))
	require.NoError(t, err)
	assert.Equal(t, records.Hand{Version: 1}, h)
}

func TestAHandEntryComesBackAsItWas(t *testing.T) {
	h := records.Hand{Version: 1, By: "Jory", Machine: records.HandMachine{"kind": "laptop", "model": "Gull 14: \"late\""},
		Places: []records.HandPlace{{Name: "DIMM A", Attach: "socket", Takes: "SO-DIMM",
			Holds: "8GB 1Rx8 PC4-2400T-SA1-11"}, {Name: "DIMM B", Holds: "free"}},
		Maximum: records.HandLimit{Size: "32GB", From: "manual p. 12"}}
	text, err := h.Encode()
	require.NoError(t, err)
	got, err := records.ParseHand(text)
	require.NoError(t, err)
	assert.Equal(t, h, got)
	assert.Equal(t, maybe.Just(32*jedec.GiB), got.Maximum.Capacity())
}

func TestWrongHandEntriesAreRefusedWithTheEntry(t *testing.T) {
	for says, text := range map[string]string{
		"the file is empty":                  "",
		"epitome-hand: 0":                    "by: Jory\n",
		`there is no key "colour"`:           "epitome-hand: 1\ncolour: blue\n",
		"kind: \"boat\"":                     "epitome-hand: 1\nmachine: {kind: boat}\n",
		`no key "colour"`:                    "epitome-hand: 1\nmachine: {colour: blue}\n",
		`machine: there is no key "sockets"`: "epitome-hand: 1\nmachine: {sockets: '2'}\n",
		"as 32GB":                            "epitome-hand: 1\nmaximum: {size: lots}\n",
		"entry 2 has no name":                "epitome-hand: 1\nplaces: [{name: A}, {holds: free}]\n",
		`places: "a" stands twice`:           "epitome-hand: 1\nplaces: [{name: A}, {name: a}]\n",
		`places: "A": attach: "glued"; it is socket or soldered`: "epitome-hand: 1\n" +
			"places: [{name: A, attach: glued}]\n",
		`places: "A" is soldered and free; soldered chips can't be missing`: "epitome-hand: 1\n" +
			"places: [{name: A, attach: soldered, holds: free}]\n",
		`places: "A": takes: "brick"; it is DIMM, SO-DIMM`: "epitome-hand: 1\n" +
			"places: [{name: A, takes: brick}]\n",
		"line": "epitome-hand: 1\nplaces: what\n",
	} {
		_, err := records.ParseHand([]byte(text))
		require.ErrorIs(t, err, records.ErrHand, says)
		assert.Contains(t, err.Error(), says)
		assert.False(t, strings.Contains(err.Error(), "yaml:"))
	}
}

func TestALimitWithoutASizeLimitsNothing(t *testing.T) {
	for _, text := range []string{"", "lots", "0GB", "-4GB"} {
		assert.False(t, records.HandLimit{Size: text}.Capacity().Known(), "%q", text)
	}
	assert.Equal(t, maybe.Just(8*jedec.GiB), records.HandLimit{Size: "8GB"}.Capacity())
}

// Each way of writing that nothing is there, and what is none.
func TestEachWordForAnEmptySocket(t *testing.T) {
	for _, word := range []string{"free", "empty", "none", "nothing", "no module", "vacant", "unused", "-", "0", "leer",
		"frei", "vide",
		"libre", "vacío", "vuoto", "vazio", "leeg", "tom", "pusty"} {
		for _, written := range []string{word, strings.ToUpper(word), " " + word + " "} {
			assert.True(t, records.IsFree(written), written)
		}
	}
	for _, word := range []string{"", "8GB", "freed", "not free", "--", "00"} {
		assert.False(t, records.IsFree(word), word)
	}
}
