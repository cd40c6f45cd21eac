package catalogue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
)

func settled[T comparable](v T) fact.Fact[T] { return fact.Of(v, fact.Settled) }

func seen() machine.Machine {
	stick := module.Module{Facts: module.Facts{Generation: settled(jedec.DDR4), Capacity: settled(32 * jedec.GiB)}}
	m := machine.Machine{Maker: settled("Halyard"), Board: settled("QB-14B"), Model: settled("Halyard Gull 14")}
	m.Totals.Installed, m.Totals.Sockets = settled(64*jedec.GiB), settled(2)
	for _, name := range []string{"A", "B"} {
		m.Places = append(m.Places, machine.Place{Name: "DIMM " + name, Channel: settled(name),
			Attach: settled(machine.Socket), Form: settled(jedec.SODIMM), Module: &stick, Running: settled(jedec.Rate(2400))})
	}
	return m
}

func ran(times int, when, by string) catalogue.Ran {
	return catalogue.Ran{Total: maybe.Just(64 * jedec.GiB), Each: maybe.Just(32 * jedec.GiB),
		Rate:  maybe.Just(jedec.Rate(2400)),
		Times: times, When: when, By: by}
}

func TestWhatIsLearnedOfABoard(t *testing.T) {
	b, err := catalogue.Learn(seen(), "2026-11-02", "J.")
	require.NoError(t, err)
	assert.Equal(t, []string{"QB-14B", "Gull 14"}, b.Names)
	assert.Equal(t, []catalogue.Slot{{Name: "DIMM A", Channel: "A"}, {Name: "DIMM B", Channel: "B"}}, b.Slots)
	assert.Equal(t, []catalogue.Ran{ran(1, "2026-11-02", "J.")}, b.Ran)

	open := seen()
	open.Places[1].Attach = fact.Of(machine.Socket, fact.Leaning)
	b, err = catalogue.Learn(open, "2026-11-02", "")
	require.NoError(t, err)
	assert.Empty(t, b.Slots, "a list of sockets that is not whole would say that there is no more")
	assert.NotEmpty(t, b.Ran)

	for what, soften := range map[string]func(*machine.Place){
		"form": func(p *machine.Place) { p.Form = fact.Of(jedec.SODIMM, fact.Leaning) },
		"rate": func(p *machine.Place) { p.Running = fact.Of(jedec.Rate(2400), fact.Leaning) },
		"size": func(p *machine.Place) {
			stick := *p.Module
			stick.Capacity = fact.Of(32*jedec.GiB, fact.Leaning)
			p.Module = &stick
		},
		"generation": func(p *machine.Place) {
			stick := *p.Module
			stick.Generation = fact.Of(jedec.DDR4, fact.Leaning)
			p.Module = &stick
		},
	} {
		m := seen()
		for i := range m.Places {
			soften(&m.Places[i])
		}
		b, err = catalogue.Learn(m, "2026-11-02", "")
		require.NoError(t, err)
		assert.Equal(t, what != "form", b.Form.Known(), what)
		assert.Equal(t, what != "rate", b.Ran[0].Rate.Known(), what)
		assert.Equal(t, what != "size", b.Ran[0].Each.Known(), what)
		assert.Equal(t, what != "generation", len(b.Generations) > 0, what)
	}

	for what, spoil := range map[string]func(*machine.Machine){
		"no name":         func(m *machine.Machine) { m.Board, m.Model = fact.Fact[string]{}, fact.Fact[string]{} },
		"no maker":        func(m *machine.Machine) { m.Maker = fact.Fact[string]{} },
		"nothing settled": func(m *machine.Machine) { m.Places, m.Totals = nil, machine.Totals{} },
	} {
		m := seen()
		spoil(&m)
		_, err := catalogue.Learn(m, "2026-11-02", "")
		assert.ErrorIs(t, err, catalogue.ErrNothingToLearn, what)
	}
}

func TestExperienceIsCounted(t *testing.T) {
	first, err := catalogue.Learn(seen(), "2026-11-02", "J.")
	require.NoError(t, err)
	second, err := catalogue.Learn(seen(), "2026-11-09", "K.")
	require.NoError(t, err)
	other := seen()
	other.Totals.Installed = settled(32 * jedec.GiB)
	third, err := catalogue.Learn(other, "2026-11-10", "")
	require.NoError(t, err)
	all := first.Again(second).Again(third)
	require.Len(t, all.Ran, 2)
	assert.Equal(t, ran(2, "2026-11-09", "K."), all.Ran[0])
	assert.Equal(t, 1, all.Ran[1].Times)
	text := catalogue.Overlay{Boards: []catalogue.Board{all}}.Encode()
	o, faults := catalogue.ParseOverlay("learned.yaml", text)
	require.Empty(t, faults)
	require.Len(t, o.Boards[0].Ran, 2)
	assert.Equal(t, 2, o.Boards[0].Ran[0].Times)
}

const ours = `epitome-catalogue: 1
# asked Mr Petersen for the manual
boards:
  - maker: Groyne
    names: [GN-31P]
    maximum: 16GB     # he is sure
    ran: [{total: 16GB, times: 2, by: J. Petersen}]
    basis: manual, page 11
processors:
  - {id: harbour-petrel, maker: Harbour Silicon, family: Petrel, brand: Petrel,
     takes: [{generation: DDR4, channels: 2}], basis: data sheet}
`

// A pack carries entries with where they come from, and nothing personal.
func TestAPackIsTakenInOnce(t *testing.T) {
	text, n, faults := catalogue.Pack(map[string][]byte{"ours.yaml": []byte(ours), "broken.yaml": []byte("boards: 7")},
		[]string{"broken.yaml", "ours.yaml"}, "Harbour")
	assert.NotEmpty(t, faults, "the broken file is named")
	assert.Equal(t, 2, n)
	assert.NotContains(t, string(text), "Petersen")
	assert.NotContains(t, string(text), "he is sure")
	assert.Contains(t, string(text), "from: Harbour")
	assert.Contains(t, string(text), "manual, page 11")

	nobodys, _, _ := catalogue.Pack(map[string][]byte{"ours.yaml": []byte(ours)}, []string{"ours.yaml"}, "")
	assert.NotContains(t, string(nobodys), "from:", "a pack of no name names none")
	onwards, _, _ := catalogue.Pack(map[string][]byte{"pack.yaml": text}, []string{"pack.yaml"}, "Quay")
	assert.NotContains(t, string(onwards), "from: Quay", "who handed an entry on does not become its source")
	assert.Contains(t, string(onwards), "from: Harbour")

	fresh, faults := catalogue.Catalogue{}.Unpack("pack.yaml", text)
	require.Empty(t, faults)
	assert.Equal(t, []string{"Harbour Silicon Petrel", "Groyne GN-31P"}, fresh.New)
	o, faults := catalogue.ParseOverlay("taken.yaml", fresh.Text)
	require.Empty(t, faults)

	again, _ := catalogue.Catalogue{}.With(o).Unpack("pack.yaml", text)
	assert.Empty(t, again.New)
	assert.Len(t, again.Same, 2)
	assert.Empty(t, again.Text)

	mine, faults := catalogue.ParseOverlay("mine.yaml",
		[]byte("epitome-catalogue: 1\nboards: [{maker: Groyne, names: [GN-31P], maximum: 8GB, basis: sticker}]\n"))
	require.Empty(t, faults)
	differs, _ := catalogue.Catalogue{}.With(mine).Unpack("pack.yaml", text)
	assert.Equal(t, []string{"Groyne GN-31P stands in mine.yaml:2"}, differs.Clash)
	assert.NotContains(t, string(differs.Text), "GN-31P", "nothing is written over the workshop's own")

	for own, want := range map[string]string{
		"id: quay-knot, brand: Knot": "new", "brand: Knot": "new", "id: harbour-petrel, brand: Knot": "stands",
		"brand: Petrel": "stands", "id: quay-knot, brand: Petrel": "stands",
	} {
		theirs, faults := catalogue.ParseOverlay("theirs.yaml", []byte("epitome-catalogue: 1\nprocessors: [{"+own+
			", family: Knot, takes: [{generation: DDR4, channels: 1}], basis: sheet}]\n"))
		require.Empty(t, faults, own)
		beside, _ := catalogue.Catalogue{}.With(theirs).Unpack("pack.yaml", text)
		assert.Equal(t, want == "new", len(beside.New) == 2, own)
		assert.Equal(t, want == "stands", len(beside.Clash) == 1, own)
	}

	_, faults = catalogue.Catalogue{}.Unpack("pack.yaml", []byte("not a pack"))
	assert.NotEmpty(t, faults)
}

// Places are learned by the names that a person sees, not by firmware's handles; soldered ones with their size.
func TestPlacesAreLearnedByName(t *testing.T) {
	m := seen()
	for i := range m.Places {
		m.Places[i].FirmwareHandle = "0x1100"
	}
	m.Places[1].Attach = settled(machine.Soldered)
	b, err := catalogue.Learn(m, "2026-11-02", "")
	require.NoError(t, err)
	assert.Equal(t, []catalogue.Slot{{Name: "DIMM A", Channel: "A"}}, b.Slots)
	assert.Equal(t, []catalogue.Bank{{Name: "DIMM B", Channel: "B", Size: maybe.Just(32 * jedec.GiB)}}, b.Soldered)
}

// What was learned first stays, what it lacks comes from the next machine, and neither entry changes.
func TestWhatTheNextMachineAdds(t *testing.T) {
	parse := func(entry string) catalogue.Board {
		o, faults := catalogue.ParseOverlay("x.yaml", []byte("epitome-catalogue: 1\nboards: [{maker: Groyne, basis: "+
			"learned, "+entry+"}]\n"))
		require.Empty(t, faults, entry)
		return o.Boards[0]
	}
	written := func(b catalogue.Board) string {
		return string(catalogue.Overlay{Boards: []catalogue.Board{b}}.Encode())
	}
	for _, c := range []struct{ had, more, want string }{
		{"names: [A]", "names: [a, B]", "names: [A, B]"},
		{"names: [A]", "names: [A], generations: [DDR4], takes: DIMM", "names: [A], generations: [DDR4], takes: DIMM"},
		{"names: [A], generations: [DDR3], takes: SO-DIMM", "names: [A], generations: [DDR4], takes: DIMM",
			"names: [A], generations: [DDR3], takes: SO-DIMM"},
		{"names: [A]", "names: [A], maximum: 32GB, per_slot: 16GB", "names: [A], maximum: 32GB, per_slot: 16GB"},
		{"names: [A], maximum: 16GB, per_slot: 8GB", "names: [A], maximum: 32GB, per_slot: 16GB",
			"names: [A], maximum: 16GB, per_slot: 8GB"},
		{"names: [A]", "names: [A], slots: [{name: X}], soldered: [{name: Y, size: 4GB}]",
			"names: [A], slots: [{name: X}], soldered: [{name: Y, size: 4GB}]"},
		{"names: [A], slots: [{name: Z}]", "names: [A], slots: [{name: X}]", "names: [A], slots: [{name: Z}]"},
		{"names: [A], soldered: [{name: Z, size: 4GB}]", "names: [A], slots: [{name: X}]",
			"names: [A], soldered: [{name: Z, size: 4GB}]"},
		{"names: [A], ran: [{total: 16GB, times: 2, when: 2026-11-02}]",
			"names: [A], ran: [{total: 16GB, times: 3, when: 2026-10-02, by: J.}, {total: 32GB, times: 1}]",
			"names: [A], ran: [{total: 16GB, times: 5, when: 2026-11-02, by: J.}, {total: 32GB, times: 1}]"},
		{"names: [A], ran: [{total: 16GB, rate: 2400}]", "names: [A], ran: [{total: 16GB, rate: 2666}]",
			"names: [A], ran: [{total: 16GB, rate: 2400}, {total: 16GB, rate: 2666}]"},
		{"names: [A], ran: [{total: 16GB, largest_module: 8GB}]", "names: [A], ran: [{total: 16GB}]",
			"names: [A], ran: [{total: 16GB, largest_module: 8GB}, {total: 16GB}]"},
	} {
		had, more := parse(c.had), parse(c.more)
		before, other := written(had), written(more)
		assert.Equal(t, written(parse(c.want)), written(had.Again(more)), "%s and %s", c.had, c.more)
		assert.Equal(t, before, written(had), c.had)
		assert.Equal(t, other, written(more), c.more)
	}
}
