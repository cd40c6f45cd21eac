package redact_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/prove"
	"epitome/core/records"
	"epitome/core/redact"
)

// Each word of a reading that is shared as it stands, and what stands in for any other.
func TestEachWordThatIsShared(t *testing.T) {
	one := func(r card.Reading) card.Reading {
		t.Helper()
		shared, leftOut := redact.Card(card.Card{Readings: []card.Reading{r}})
		assert.Empty(t, leftOut)
		require.Len(t, shared.Readings, 1)
		return shared.Readings[0]
	}
	for how, want := range map[string]string{"live": "live", "files": "files", "system copy": "system copy",
		"by hand":    "by hand",
		"worked out": "worked out", "compared": "compared", "Live": "files", "": "files", "by Jory": "files"} {
		assert.Equal(t, want, one(card.Reading{Kind: card.SPD, How: how, Failure: "x"}).How, how)
	}
	for source, want := range map[string]string{"observed": "observed", "entered by hand": "entered by hand",
		"propose": "propose",
		"recheck": "recheck", "/home/jory/x": "spd 1", "": "spd 1"} {
		assert.Equal(t, want, one(card.Reading{Kind: card.SPD, Source: source, Failure: "x"}).Source, source)
	}
	const driver = "no eeprom file: the chip driver is not loaded"
	for failure, want := range map[string]string{
		"read 0-0050: ENXIO":           "the chip did not answer (ENXIO)",
		"/x may not be read by jory":   "may not be read by this user; run again as root (sudo)",
		"ee1004 loads it":              driver + "; modprobe ee1004 loads it, as root",
		"spd5118 loads it":             driver + "; modprobe spd5118 loads it, as root",
		"at24 loads it":                driver + "; modprobe at24 loads it, as root",
		"try modprobe":                 driver,
		"/x is longer than 1024 bytes": "is longer than any module's EEPROM",
		"jory pulled it":               "could not be read",
	} {
		assert.Equal(t, want, one(card.Reading{Kind: card.SPD, Failure: failure}).Failure, failure)
	}
	for failure, want := range map[string]string{"withdrawn": "withdrawn", "withdrawn 2026-11-02": "withdrawn 2026-11-02",
		"withdrawn 2026-11-02 by Jory": "withdrawn", "ENXIO": "withdrawn", "": ""} {
		assert.Equal(t, want, one(card.Reading{Kind: card.Hand, Failure: failure,
			Data: []byte("epitome-hand: 1\n")}).Failure, failure)
	}
	for address, want := range map[string]string{"0-0050": "0-0050", "12-0057": "12-0057", "999-0053": "999-0053",
		"0x50": "0x50",
		"0x57": "0x57", "0x58": "", "0-0058": "", "1000-0050": "", "0-50": "", "jory": "", "": ""} {
		assert.Equal(t, want, one(card.Reading{Kind: card.SPD, Address: address, Failure: "x"}).Address, address)
	}
}

// People are numbered in the order in which they come, and each keeps the number; sources likewise, by their kind.
func TestStandInsAreKept(t *testing.T) {
	hand := func(by, rest string) card.Reading {
		return card.Reading{Kind: card.Hand, Source: by, Data: []byte("epitome-hand: 1\nby: " + by + "\n" + rest)}
	}
	shared, leftOut := redact.Card(card.Card{Readings: []card.Reading{hand("Jory", ""), hand("Wenna", ""), hand("Jory",
		"sockets: 2\n"),
		{Kind: card.SPD, Source: "a", Failure: "x"}, {Kind: card.SPD, Source: "b", Failure: "x"}, {Kind: card.SPD,
			Source: "a", Failure: "x"},
		hand("Kerra", "maximum: {size: 32GB, from: manual}\nper_slot: {size: 16GB, from: a friend}\n")}})
	assert.Empty(t, leftOut)
	var sources, texts []string
	for _, r := range shared.Readings {
		sources, texts = append(sources, r.Source), append(texts, string(r.Data))
	}
	assert.Equal(t, []string{"hand 1", "hand 2", "hand 1", "spd 1", "spd 2", "spd 1", "hand 3"}, sources)
	for i, want := range map[int]string{0: "by: person 1", 1: "by: person 2", 2: "by: person 1", 6: "by: person 3"} {
		assert.Contains(t, texts[i], want)
	}
	assert.Contains(t, texts[6], "from: manual")
	assert.Contains(t, texts[6], "from: a source that is named on the card")
	assert.NotContains(t, texts[0], "a source that is named", "nobody named one")
}

// What somebody noted of a place is shared whole: that it is free, and that nothing was said of what it holds.
func TestFreePlacesAreShared(t *testing.T) {
	shared, leftOut := redact.Card(card.Card{Readings: []card.Reading{{Kind: card.Hand, Source: "hand",
		Data: []byte("epitome-hand: 1\nplaces: [{name: A, attach: socket, holds: free}, {name: B, attach: socket}, " +
			"{name: C, attach: socket, holds: 8GB DDR4-2400 SO-DIMM quayside}]\n")}}})
	assert.Empty(t, leftOut)
	require.Len(t, shared.Readings, 1)
	hand, err := records.ParseHand(shared.Readings[0].Data)
	require.NoError(t, err)
	require.Len(t, hand.Places, 3)
	assert.Equal(t, "free", hand.Places[0].Holds)
	assert.Empty(t, hand.Places[1].Holds)
	assert.Equal(t, "8GB DDR4-2400 SO-DIMM", hand.Places[2].Holds)
}

// Of the kernel's texts the counters that are read, and no line more.
func TestEachCounterThatIsShared(t *testing.T) {
	shared, leftOut := redact.Card(card.Card{Readings: []card.Reading{
		{Kind: card.VMStat, Source: "v", Data: []byte("pswpin 1\npswpout 2\npgmajfault 3\npgfault 4\nnr_free 5\n")},
		{Kind: card.Pressure, Source: "p", Data: []byte("some avg10=0.00 avg60=0.00 avg300=0.00 total=12\n" +
			"full avg10=0.00 avg60=0.00 avg300=0.00 total=7\nmost avg10=1 total=3\n")}}})
	assert.Empty(t, leftOut)
	require.Len(t, shared.Readings, 2)
	assert.Equal(t, "pswpin 1\npswpout 2\npgmajfault 3\n", string(shared.Readings[0].Data))
	assert.Contains(t, string(shared.Readings[1].Data), "some ")
	assert.Contains(t, string(shared.Readings[1].Data), "full ")
	assert.NotContains(t, string(shared.Readings[1].Data), "most")
}

// Of a proof's faults the words of the record stay, and what is none of them goes.
func TestEachWordOfAFaultThatIsShared(t *testing.T) {
	p := records.Proof{Version: 1, Date: "2026-11-02", Faults: []records.ProofFault{
		{Pattern: prove.Patterns[0].Name, Wrote: "0x00ff", Read: "0x00fe"},
		{Pattern: "of Anna Keel", Wrote: "Anna", Read: "0xXY"}}}
	data, err := p.Encode()
	require.NoError(t, err)
	shared, leftOut := redact.Card(card.Card{Readings: []card.Reading{{Kind: card.Proof, Source: "p", Data: data}}})
	assert.Empty(t, leftOut)
	require.Len(t, shared.Readings, 1)
	back, err := records.ParseProof(shared.Readings[0].Data)
	require.NoError(t, err)
	require.Len(t, back.Faults, 2)
	assert.Equal(t, p.Faults[0], back.Faults[0])
	assert.Equal(t, [3]string{}, [3]string{back.Faults[1].Pattern, back.Faults[1].Wrote, back.Faults[1].Read})
	assert.Equal(t, "2026-11-02", back.Date)
}
