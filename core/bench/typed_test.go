package bench_test

import (
	"errors"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/docket"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/records"
)

// A reading goes by its kind, a part of its name, or the end of its bus address.
func TestAReadingGoesByItsName(t *testing.T) {
	b := bench.Bare(bench.NewCard(time.Unix(0, 0), "", []card.Reading{
		{Kind: card.SPD, Source: "eeprom-0-0050.bin", Address: "0-0050", Data: []byte{1}},
		{Kind: card.TableFile, Source: "smbios.bin", Data: []byte{1}},
		{Kind: card.Hand, Source: "observed", Data: []byte("{}")}}))
	for name, there := range map[string]bool{
		"0050": true, "0x50": true, "0051": false, "0x51": false, "spd": true, "SPD": true, "smbios": true,
		"SMBIOS": false, "smbios.bin": true, "eeprom-0": true, "observed": false, "hand": false,
		"table": false,
	} {
		err := b.Accepts("distrust", name)
		assert.Equal(t, there, err == nil, "%s: %v", name, err)
		if err != nil {
			assert.Contains(t, err.Error(), "there are: eeprom-0-0050.bin (spd), smbios.bin (smbios-file)", name)
		}
	}
}

// What is typed wrong is an InputError that says how to write it.
func TestWhatIsTypedWrongSaysHowToWriteIt(t *testing.T) {
	stick, err := bench.StickOf("8GB 1Rx8 PC4-2400T-SA1-11")
	require.NoError(t, err)
	sticks := []bench.Stick{stick}
	b := bench.Bare(bench.NewCard(time.Unix(0, 0), "", nil))
	for says, try := range map[string]func() error{
		"as 2133":           func() error { _, err := bench.GradesAt("fast", sticks); return err },
		"the nearest are":   func() error { _, err := bench.GradesAt("333", sticks); return err },
		"as 2133,2400":      func() error { _, err := bench.Mix(sticks, "2133;2400"); return err },
		"no clue given":     func() error { _, err := bench.Narrow(bench.Clues{}); return err },
		"such as 2012":      func() error { _, err := bench.Narrow(bench.Clues{Year: 12}); return err },
		"positive figures":  func() error { _, err := bench.Narrow(bench.Clues{Slots: -1}); return err },
		"it is DIMM":        func() error { _, err := bench.Narrow(bench.Clues{Form: "card"}); return err },
		"--volts 1.35":      func() error { _, err := bench.Narrow(bench.Clues{Volts: "much"}); return err },
		"as in 12GB":        func() error { _, err := bench.Narrow(bench.Clues{Total: "12"}); return err },
		"neither a size":    func() error { _, err := b.MayGo("far"); return err },
		`--for "0GB" is`:    func() error { _, err := b.MayGo("0GB"); return err },
		`--for "0 MT/s" is`: func() error { _, err := b.MayGo("0 MT/s"); return err },
		`--for "-5" is`:     func() error { _, err := b.MayGo("-5"); return err },
		"as in 16GB":        func() error { _, _, err := bench.Wishes{Reach: "16"}.Goal(); return err },
		"--spend \"much\"":  func() error { _, _, err := bench.Wishes{Spend: "much"}.Goal(); return err },
		"--trade-in \"-5\"": func() error { _, _, err := bench.Wishes{TradeIn: "-5"}.Goal(); return err },
		"60 or 61.90":       func() error { _, _, err := bench.Wishes{Spend: "much"}.Goal(); return err },
		"0 or more":         func() error { _, _, err := bench.Wishes{Discard: maybe.Just(-1)}.Goal(); return err },
		"give one of them": func() error {
			_, _, err := bench.Wishes{Keep: true,
				Discard: maybe.Just(2)}.Goal()
			return err
		},
		"PLACE=LABEL":       func() error { _, err := bench.StickerForm([]string{"DIMM A"}); return err },
		"PLACE=LABEL, as":   func() error { _, err := bench.StickerForm([]string{"=8GB 1Rx8 PC4-2400T-SA1-11"}); return err },
		`"DIMM A="`:         func() error { _, err := bench.StickerForm([]string{"DIMM A="}); return err },
		"place A:":          func() error { _, err := bench.StickerForm([]string{"A=nothing at all"}); return err },
		"FACT=VALUE":        func() error { _, err := b.AssumingFacts([]string{"maximum"}); return err },
		"there is no place": func() error { return b.Accepts("attach of DIMM 9", "socket") },
		"no reading on":     func() error { return b.Accepts("distrust", "nobody") },
		"is no observation": func() error {
			_, _, err := b.Observe(bench.Seen{Texts: []string{"hello"}},
				time.Now())
			return err
		},
		"nothing to look up": func() error { _, err := bench.FindParts(bench.Known{}, bench.PartQuery{}); return err },
		"FAMILY/MODEL": func() error {
			_, err := bench.FindParts(bench.Known{}, bench.PartQuery{Brand: "x", CPUID: "6"})
			return err
		},
		"vendor:device": func() error {
			_, err := bench.FindParts(bench.Known{}, bench.PartQuery{PCI: []string{"8086"}})
			return err
		},
		"FIELD=TITLE": func() error {
			_, err := bench.ReadList(rowsOf(),
				bench.ListOrder{Columns: "x=y"})
			return err
		},
		"the entry can't be ": func() error { _, err := bench.NewBoard(map[string][]string{"maker": {"m"}}); return err },
	} {
		err := try()
		var wrong *bench.InputError
		if assert.ErrorAs(t, err, &wrong, says) {
			assert.Contains(t, err.Error(), says)
		}
	}
	_, err = bench.StickOf("spd-50.bin")
	assert.ErrorContains(t, err, "is not there")
}

func rowsOf(rows ...[]string) func(func(bench.ListRow) bool) {
	return func(yield func(bench.ListRow) bool) {
		for i, cells := range rows {
			if !yield(bench.ListRow{Number: i + 1, Cells: cells}) {
				return
			}
		}
	}
}

// Lists of two currencies are not added up; an article number finds its line.
func TestOffersAreOfOneCurrency(t *testing.T) {
	read := func(supplier, price string) bench.PriceList {
		l, err := bench.ReadList(rowsOf([]string{"sku", "description", "price"},
			[]string{"A-1", "8GB DDR4-2400 SO-DIMM", price}, []string{"A-2", "a cable", price}),
			bench.ListOrder{Supplier: supplier})
		require.NoError(t, err)
		return l
	}
	one, other := read("one", "20 EUR"), read("other", "22 CHF")
	offers, of, err := bench.OffersOf([]bench.PriceList{one}, "")
	require.NoError(t, err)
	assert.Equal(t, "EUR", of)
	assert.Len(t, offers, 1)
	assert.Equal(t, 1, bench.Unstated(offers))
	_, _, err = bench.OffersOf([]bench.PriceList{one, other}, "")
	assert.ErrorContains(t, err, "several currencies")
	offers, _, err = bench.OffersOf([]bench.PriceList{one, other}, "chf")
	require.NoError(t, err)
	assert.Len(t, offers, 1)
	_, _, err = bench.OffersOf([]bench.PriceList{one}, "USD")
	assert.ErrorContains(t, err, "no line of the price lists can be used in USD")

	s, ok, err := bench.Listed(one, "a-1")
	require.NoError(t, err)
	assert.True(t, ok)
	assert.Equal(t, 8*jedec.GiB, s.Capacity.Or(0))
	_, ok, err = bench.Listed(one, "A-2")
	assert.True(t, ok)
	assert.ErrorContains(t, err, "row 3 can't be used")
	_, ok, err = bench.Listed(one, "A-3")
	assert.False(t, ok)
	assert.NoError(t, err)
}

// A journal of a watch is read back as it was begun; what is none is named.
func TestAJournalReadsBack(t *testing.T) {
	began := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	head := bench.JournalHead(bench.WatchReading("/proc, every 1s", began))
	r, err := bench.Watched("journal", []byte(head))
	require.NoError(t, err)
	assert.Empty(t, r.Data, "no sample yet")
	assert.Equal(t, began, r.Taken)
	assert.Equal(t, "/proc, every 1s", r.Source)
	empty, err := bench.Watched("journal", nil)
	assert.NoError(t, err)
	assert.Empty(t, empty.Data)
	for _, text := range []string{"hello\n", "epitome-watch yesterday /proc\n",
		strings.TrimRight(head, "\n") + "\nwhat is this\n"} {
		_, err := bench.Watched("journal", []byte(text))
		assert.ErrorContains(t, err, "journal", text)
	}
}

// The latest observation that still counts is withdrawn, and no other.
func TestTheLatestObservationIsWithdrawn(t *testing.T) {
	now := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	b := bench.Bare(bench.NewCard(now, "", nil))
	readings, did, err := b.Observe(bench.Seen{By: "J.", Texts: []string{"sockets=2", "Slots used: 1 of 2"}}, now)
	require.NoError(t, err)
	assert.Equal(t, []string{"noted Slots used: 1 of 2", "observed sockets=2"}, did)
	c := bench.NewCard(now, "", readings)
	assert.Equal(t, maybe.Just(2), bench.Bare(c).Machine().Totals.Sockets.Value())
	made, ok := bench.Withdrawn(&c, now.Add(time.Hour))
	assert.True(t, ok)
	assert.Equal(t, now, made)
	_, ok = bench.Withdrawn(&c, now)
	assert.False(t, ok)
}

// What a form's questions take, and what they do not.
func TestWhatAFormsQuestionsTake(t *testing.T) {
	kind := bench.NameQuestions()[0].Accept
	_, attach := bench.PlaceQuestion("attach")
	_, form := bench.PlaceQuestion("takes")
	for _, c := range []struct {
		accept         func(string) error
		takes, refuses string
		says           string
	}{
		{kind, "laptop|desktop|all-in-one|mini|server|other", "boat|Laptop", "one of laptop, desktop"},
		{attach, "socket|soldered", "glued|Socket|", "one of socket, soldered"},
		{form, "DIMM|SO-DIMM|CAMM2", "brick|", "DIMM, SO-DIMM"},
		{bench.AcceptHolds, "free|8GB 1Rx8 PC4-2400T-SA1-11", "7GB 1Rx8 PC4-2400T-SA1-11", "7GB"},
		{bench.AcceptSize, "32GB|512 MB", "lots|0GB|32", "as 32GB"},
		{bench.AcceptNewName([]bench.FormPlace{{Name: "DIMM A"}}), "DIMM B|A", "DIMM A|dimm a", "entered already"},
	} {
		for text := range strings.SplitSeq(c.takes, "|") {
			assert.NoError(t, c.accept(text), text)
		}
		for text := range strings.SplitSeq(c.refuses, "|") {
			assert.ErrorContains(t, c.accept(text), c.says, text)
		}
	}
}

// What is typed at its bounds: taken, and one beyond it not.
func TestBoundsOfWhatIsTyped(t *testing.T) {
	for name, c := range map[string]struct {
		clues bench.Clues
		says  string // empty where it is taken
	}{
		"year 1990": {bench.Clues{Year: 1990}, ""}, "year 1989": {bench.Clues{Year: 1989}, "--year 1989"},
		"year 2100": {bench.Clues{Year: 2100}, ""}, "year 2101": {bench.Clues{Year: 2101}, "--year 2101"},
		"1 contact": {bench.Clues{Contacts: 1}, ""}, "contacts below nought": {bench.Clues{Contacts: -1}, "positive figures"},
		"32 slots": {bench.Clues{Total: "8GB", Slots: 32}, ""}, "33 slots": {bench.Clues{Slots: 33}, "positive figures"},
		"slots below nought": {bench.Clues{Slots: -1}, "positive figures"},
		"notch at 140":       {bench.Clues{NotchMM: 140}, ""}, "notch at 140.1": {bench.Clues{NotchMM: 140.1},
			"positive figures"},
		"notch at 0.1": {bench.Clues{NotchMM: 0.1}, ""}, "notch below nought": {bench.Clues{NotchMM: -0.1},
			"positive figures"},
		"no number":           {bench.Clues{NotchMM: math.NaN()}, "positive figures"},
		"no clue":             {bench.Clues{}, "no clue given"},
		"a clock":             {bench.Clues{Clock: "800 MHz"}, ""},
		"its comma":           {bench.Clues{Clock: "666,67"}, ""},
		"a clock of nought":   {bench.Clues{Clock: "0"}, "--clock"},
		"of a million":        {bench.Clues{Clock: "1000000"}, "--clock"},
		"of a little less":    {bench.Clues{Clock: "999999"}, ""},
		"of no figure":        {bench.Clues{Clock: "fast"}, "--clock"},
		"volts":               {bench.Clues{Volts: "1.35V"}, ""},
		"volts below nought":  {bench.Clues{Volts: "-1"}, "--volts"},
		"a total":             {bench.Clues{Total: "12GB"}, ""},
		"a total of nothing":  {bench.Clues{Total: "0GB"}, "--total"},
		"a total of no size":  {bench.Clues{Total: "much"}, "--total"},
		"a form":              {bench.Clues{Form: "so-dimm"}, ""},
		"a form of no module": {bench.Clues{Form: "card"}, "--form"},
		"a note":              {bench.Clues{Note: "4.0 GB (3.89 usable)"}, ""},
		"a note of nothing":   {bench.Clues{Note: "what"}, "the note"},
	} {
		_, err := bench.Narrow(c.clues)
		if c.says == "" {
			assert.NoError(t, err, name)
			continue
		}
		var input *bench.InputError
		require.ErrorAs(t, err, &input, name)
		assert.Contains(t, err.Error(), c.says, name)
	}
	r, err := bench.Narrow(bench.Clues{Volts: "1.35"})
	require.NoError(t, err)
	for _, x := range r.Candidates {
		assert.Equal(t, jedec.DDR3, x.Generation, "1.35 V and no other")
	}
	for rates, says := range map[string]string{"": "", "2133": "", "2133, 2400": "", "1": "", "0": "--rates",
		"-1":    "--rates",
		"2133,": "--rates", "x": "--rates"} {
		_, err := bench.Mix(nil, rates)
		if says == "" {
			assert.NoError(t, err, rates)
		} else {
			assert.ErrorContains(t, err, says, rates)
		}
	}
	for figure, says := range map[string]string{"2133": "", " 2133 ": "", "x": "is no rate", "150": "no such grade"} {
		grades, err := bench.GradesAt(figure, []bench.Stick{stick(t, "8GB 1Rx8 PC4-2400T-SA1-11")})
		if says == "" {
			require.NoError(t, err, figure)
			assert.Equal(t, jedec.Rate(2133), grades[0].Rate)
		} else {
			assert.ErrorContains(t, err, says, figure)
		}
	}
}

func stick(t *testing.T, text string) bench.Stick {
	t.Helper()
	s, err := bench.StickOf(text)
	require.NoError(t, err)
	return s
}

// A CPUID and a PCI id as they are typed: each part at its bounds.
func TestIdsOfPartsAsTyped(t *testing.T) {
	for text, ok := range map[string]bool{"6/142": true, "6/142/9": true, "0x6/0x8E/9": true, " 6 / 142 ": true,
		"6":         false,
		"6/142/9/1": false, "6/x": false, "-6/142": false, "6/-1": false, "0/0": true, "6/": false, "99999999999/1": false} {
		_, err := bench.FindParts(bench.Known{}, bench.PartQuery{Brand: "Petrel", CPUID: text})
		assert.Equal(t, ok, err == nil, text)
	}
	for id, ok := range map[string]bool{"8086:a305": true, "FFFF:0000": true, "8086": false, "8086:a30": false,
		"8086:a3055": false,
		"808:a305":   false, "80860:a305": false, "8086:g305": false, ":a305": false, "8086:": false, "80 6:a305": false} {
		_, err := bench.FindParts(bench.Known{}, bench.PartQuery{PCI: []string{id}})
		assert.Equal(t, ok, err == nil, id)
	}
	for maker, ok := range map[string]bool{"": true, "intel": true, "AMD": true, "GenuineIntel": true, "nobody": false} {
		_, err := bench.FindParts(bench.Known{}, bench.PartQuery{Brand: "x", Maker: maker})
		assert.Equal(t, ok, err == nil, maker)
	}
	plan := bench.Plan{Lists: []docket.List{{Name: "a", SHA256: "1"}, {Name: "b", SHA256: "2"}}}
	for name, want := range map[string]string{"a": "1", "b": "2", "c": ""} {
		sum, ok := bench.Sum(plan, name)
		assert.Equal(t, want, sum, name)
		assert.Equal(t, want != "", ok, name)
	}
}

// A form and a panel's lines are taken as readings where they say something.
func TestReadingsThatAreEntered(t *testing.T) {
	r, err := bench.FormReading("form.yaml", []byte("epitome-hand: 1\nby: Jory\n"), time.Unix(7, 0))
	require.NoError(t, err)
	assert.Equal(t, card.Reading{Kind: card.Hand, Source: "form.yaml", How: "by hand", Taken: time.Unix(7, 0),
		Data: []byte("epitome-hand: 1\nby: Jory\n")}, r)
	_, err = bench.FormReading("form.yaml", []byte("epitome-hand: 2\n"), time.Unix(7, 0))
	assert.ErrorContains(t, err, "form.yaml: ")
	r, err = bench.PanelReading([]string{"Slots used: 1 of 2"}, time.Unix(7, 0))
	require.NoError(t, err)
	assert.Equal(t, "Slots used: 1 of 2", string(r.Data))
	_, err = bench.PanelReading([]string{"all is well"}, time.Unix(7, 0))
	assert.ErrorContains(t, err, "--panel")
}

// Any one thing that a form can say of a machine is something entered; who wrote it, and remarks, are not.
func TestAFormThatSaysSomething(t *testing.T) {
	for text, want := range map[string]bool{"": false, "by: Jory": false, "source: manual": false, "remarks: dusty": false,
		"maximum: {from: manual}": false, "maximum: {size: 32GB}": true, "per_slot: {size: 16GB}": true,
		"machine: {kind: laptop}": true, "places: [{name: A}]": true, "rate: 2666": true, "takes: SO-DIMM": true,
		"supply: 1.35 V": true, "slots_per_channel: 2": true, "sockets: 2": true, "distrust: [smbios-table]": true} {
		h, err := records.ParseHand([]byte("epitome-hand: 1\n" + text + "\n"))
		require.NoError(t, err, text)
		assert.Equal(t, want, bench.Entered(h), text)
	}
	assert.False(t, bench.Entered(bench.NewForm()))
}

// Clues at their bounds, and just beyond them.
func TestTheBoundsOfClues(t *testing.T) {
	for _, c := range []struct {
		clues bench.Clues
		fine  bool
	}{
		{bench.Clues{Slots: 1}, true}, {bench.Clues{Slots: 32}, true}, {bench.Clues{Slots: 33}, false},
		{bench.Clues{Year: 1989}, false}, {bench.Clues{Year: 1990}, true}, {bench.Clues{Year: 2100}, true},
		{bench.Clues{Year: 2101}, false}, {bench.Clues{NotchMM: 140}, true}, {bench.Clues{NotchMM: 140.1}, false},
		{bench.Clues{NotchMM: -1}, false}, {bench.Clues{Contacts: 204}, true}, {bench.Clues{Contacts: -204}, false},
	} {
		_, err := bench.Narrow(c.clues)
		var wrong *bench.InputError
		assert.Equal(t, c.fine, !errors.As(err, &wrong), "%+v: %v", c.clues, err)
	}
}
