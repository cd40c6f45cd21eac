// Package jedec is the vocabulary of memory: generations, forms, grades and
// their spellings, timing arithmetic, labels and maker codes. It is exact and
// complete for the parts a repair shop meets and knows nothing of any machine.
package jedec

import (
	"encoding/json"
	"slices"
	"strings"
)

// A Generation is a family of memory devices whose members never fit one
// another's controllers. The zero value is GenerationUnknown.
//
// DDR3L and DDR3U are not generations but voltage classes of DDR3: the
// modules share contacts, key and protocol.
type Generation uint8

// The generations, oldest first; low-power ones after the ordinary ones.
const (
	GenerationUnknown Generation = iota
	SDR
	DDR
	DDR2
	DDR3
	DDR4
	DDR5
	LPDDR
	LPDDR2
	LPDDR3
	LPDDR4
	LPDDR4X
	LPDDR5
	LPDDR5X
)

// A Trait is what the standards and the market say of a generation.
type Trait struct {
	Name       string
	From, To   int         // years in which machines were sold with it; To 0: still are
	Prefetch   int         // words fetched at once
	MilliVolts []int       // supply voltages of its classes, the ordinary one first
	Others     []int       // supplies of single grades that are no class: DDR-400's 2.6 V
	Classes    []string    // suffixes of the voltage classes, beside MilliVolts: "", "L", "U"
	Module     string      // prefix of the module rating, "PC4-"; empty where modules have none
	Densities  []int       // legal die densities, Mbit
	Widths     []int       // legal die widths, bits
	Sizes      []Capacity  // sizes of unbuffered modules for sockets, smallest first
	Forms      []FormTrait // forms it is made in
	Standard   string      // where device voltages, densities and grades are defined
	Burst      int         // burst length in transfers
	HalfClocks bool        // CAS latency may count half clocks
	Rounding   rounding    // how times become clocks
	ClockRatio int         // transfers per clock: 1 for SDR, 2 for DDR kinds, 8 for LPDDR5's command clock
}

// A FormTrait is a form of one generation.
type FormTrait struct {
	Form     Form
	Contacts int
	Key      float64 // mm from the left end to the key's centre, label side up, contacts down; 0 where not established
}

// traits is the one table of generations.
//
// Years are those in which new machines of the kind were sold; they overlap.
// Voltages: JESD79 (2.5 V, 2.6 V for 400), JESD79-2, -3 (-3-1 1.35 V, -3-2
// 1.25 V), -4, -5; JESD209 and successors for the low-power kinds (core
// supply VDD2).
//
// Contacts: JESD21-C module chapters 4.5 to 4.20. Key positions follow from
// the contact pitch and the number of contacts on either side of the key
// (registrations MO-206, MO-237, MO-269, MO-309; MO-268 and MO-310 for
// SO-DIMMs): module width less the contact rows, halved, plus the first row,
// plus half the gap. 133.35 mm and 1.27 mm pitch, 52 + 40 contacts, gap 6.35
// for DDR; 1.00 mm pitch, 64 + 56 and 48 + 72, gap 5.00 for DDR2 and DDR3;
// 0.85 mm, 77 + 67, gap 5.95 for DDR4; 67.60 mm, 0.60 mm pitch, 36 + 66, gap
// 3.00 for DDR3 SO-DIMMs; 69.60 mm, 0.50 mm, 72 + 58, gap 1.60 for DDR4 ones.
// The keys of DDR and DDR2 SO-DIMMs lie less than 1 mm apart and are left
// open, as are those of DDR5 and of the small forms.
//
// Module sizes: two ranks of x8 chips of the largest density in use. DDR5
// dies of 24 Gbit make the sizes that are no powers of two.
var traits = [...]Trait{
	GenerationUnknown: {Name: "unknown"},
	SDR: {Name: "SDR", From: 1996, To: 2004, Prefetch: 1, MilliVolts: []int{3300}, Classes: []string{""}, Module: "PC",
		Densities: []int{16, 64, 128, 256, 512}, Widths: []int{4, 8, 16}, ClockRatio: 1, Burst: 8, Standard: "JESD21-C 3.11",
		Sizes: []Capacity{32 * MiB, 64 * MiB, 128 * MiB, 256 * MiB, 512 * MiB},
		Forms: []FormTrait{{DIMM, 168, 0}, {SODIMM, 144, 0}, {MicroDIMM, 144, 0}}},
	DDR: {Name: "DDR", From: 2000, To: 2006, Prefetch: 2, MilliVolts: []int{2500}, Others: []int{2600},
		Classes: []string{""}, Module: "PC", HalfClocks: true,
		Densities: []int{64, 128, 256, 512, 1024}, Widths: []int{4, 8, 16}, ClockRatio: 2, Burst: 8, Standard: "JESD79F",
		Sizes: []Capacity{64 * MiB, 128 * MiB, 256 * MiB, 512 * MiB, 1 * GiB, 2 * GiB},
		Forms: []FormTrait{{DIMM, 184, 74.3}, {SODIMM, 200, 0}, {MicroDIMM, 172, 0}}},
	DDR2: {Name: "DDR2", From: 2003, To: 2010, Prefetch: 4, MilliVolts: []int{1800}, Classes: []string{""}, Module: "PC2-",
		Densities: []int{256, 512, 1024, 2048, 4096}, Widths: []int{4, 8, 16}, ClockRatio: 2, Burst: 8, Standard: "JESD79-2F",
		Sizes: []Capacity{256 * MiB, 512 * MiB, 1 * GiB, 2 * GiB, 4 * GiB, 8 * GiB},
		Forms: []FormTrait{{DIMM, 240, 70.7}, {SODIMM, 200, 0}, {MiniDIMM, 244, 0}, {MicroDIMM, 214, 0}, {FBDIMM, 240, 0}}},
	DDR3: {Name: "DDR3", From: 2007, To: 2016, Prefetch: 8, MilliVolts: []int{1500, 1350, 1250},
		Classes: []string{"", "L", "U"}, Module: "PC3-",
		Densities: []int{512, 1024, 2048, 4096, 8192}, Widths: []int{4, 8, 16}, ClockRatio: 2, Burst: 8,
		Standard: "JESD79-3F",
		Sizes:    []Capacity{512 * MiB, 1 * GiB, 2 * GiB, 4 * GiB, 8 * GiB, 16 * GiB},
		Forms:    []FormTrait{{DIMM, 240, 54.7}, {SODIMM, 204, 24.8}, {MiniDIMM, 244, 0}}},
	DDR4: {Name: "DDR4", From: 2014, Prefetch: 8, MilliVolts: []int{1200}, Classes: []string{""}, Module: "PC4-",
		Rounding:  guard974,
		Densities: []int{2048, 4096, 8192, 16384}, Widths: []int{4, 8, 16}, ClockRatio: 2, Burst: 8, Standard: "JESD79-4",
		Sizes: []Capacity{2 * GiB, 4 * GiB, 8 * GiB, 16 * GiB, 32 * GiB},
		Forms: []FormTrait{{DIMM, 288, 70.9}, {SODIMM, 260, 38.3}, {MiniDIMM, 288, 0}}},
	DDR5: {Name: "DDR5", From: 2021, Prefetch: 16, MilliVolts: []int{1100}, Classes: []string{""}, Module: "PC5-",
		Rounding:  guard997,
		Densities: []int{8192, 16384, 24576, 32768, 65536}, Widths: []int{4, 8, 16}, ClockRatio: 2, Burst: 16,
		Standard: "JESD79-5",
		Sizes:    []Capacity{8 * GiB, 12 * GiB, 16 * GiB, 24 * GiB, 32 * GiB, 48 * GiB, 64 * GiB},
		Forms:    []FormTrait{{DIMM, 288, 0}, {SODIMM, 262, 0}, {CAMM2, 644, 0}}},
	LPDDR: {Name: "LPDDR", From: 2006, To: 2012, Prefetch: 2, MilliVolts: []int{1800}, Classes: []string{""},
		ClockRatio: 2, Standard: "JESD209", Forms: []FormTrait{{Soldered, 0, 0}}},
	LPDDR2: {Name: "LPDDR2", From: 2010, To: 2014, Prefetch: 4, MilliVolts: []int{1200}, Classes: []string{""},
		ClockRatio: 2, Standard: "JESD209-2", Forms: []FormTrait{{Soldered, 0, 0}}},
	LPDDR3: {Name: "LPDDR3", From: 2012, To: 2019, Prefetch: 8, MilliVolts: []int{1200}, Classes: []string{""},
		ClockRatio: 2, Standard: "JESD209-3", Forms: []FormTrait{{Soldered, 0, 0}}},
	LPDDR4: {Name: "LPDDR4", From: 2014, Prefetch: 16, MilliVolts: []int{1100}, Classes: []string{""}, ClockRatio: 2,
		Standard: "JESD209-4", Forms: []FormTrait{{Soldered, 0, 0}}},
	LPDDR4X: {Name: "LPDDR4X", From: 2017, Prefetch: 16, MilliVolts: []int{1100}, Classes: []string{""}, ClockRatio: 2,
		Standard: "JESD209-4-1", Forms: []FormTrait{{Soldered, 0, 0}}},
	LPDDR5: {Name: "LPDDR5", From: 2019, Prefetch: 16, MilliVolts: []int{1050}, Classes: []string{""}, ClockRatio: 8,
		Standard: "JESD209-5", Forms: []FormTrait{{Soldered, 0, 0}, {LPCAMM2, 644, 0}}},
	LPDDR5X: {Name: "LPDDR5X", From: 2022, Prefetch: 16, MilliVolts: []int{1050}, Classes: []string{""}, ClockRatio: 8,
		Standard: "JESD209-5B", Forms: []FormTrait{{Soldered, 0, 0}, {LPCAMM2, 644, 0}}},
}

// Generations returns every generation, oldest first, low-power ones last.
func Generations() []Generation {
	all := make([]Generation, 0, len(traits)-1)
	for g := SDR; int(g) < len(traits); g++ {
		all = append(all, g)
	}
	return all
}

// Trait returns what the standards say of the generation; that of
// GenerationUnknown is empty but for its name. Its slices must not be changed.
func (g Generation) Trait() Trait {
	if int(g) < len(traits) {
		return traits[g]
	}
	return traits[GenerationUnknown]
}

// RunsAt reports whether a supply, in millivolts, is one of the generation's.
func (g Generation) RunsAt(milliVolts int) bool {
	t := g.Trait()
	return slices.Contains(t.MilliVolts, milliVolts) || slices.Contains(t.Others, milliVolts)
}

// String returns the standard's name, such as "DDR4". ParseGeneration reads
// it back.
func (g Generation) String() string { return g.Trait().Name }

// MarshalJSON writes the name, or null for GenerationUnknown.
func (g Generation) MarshalJSON() ([]byte, error) {
	if g == GenerationUnknown {
		return []byte("null"), nil
	}
	return json.Marshal(g.String())
}

// LowPower reports whether g is one of the LPDDR generations.
func (g Generation) LowPower() bool { return g >= LPDDR && g <= LPDDR5X }

// OneWord reports whether firmware has one word for both generations: DSP0134, 7.18.2, has a code for LPDDR4 (1Eh) and
// one for LPDDR5 (23h), and none for the faster kinds of either.
func OneWord(a, b Generation) bool {
	for _, word := range [][2]Generation{{LPDDR4, LPDDR4X}, {LPDDR5, LPDDR5X}} {
		if slices.Contains(word[:], a) && slices.Contains(word[:], b) {
			return true
		}
	}
	return a == b
}

// ModuleSizes returns the sizes in which unbuffered modules of the generation
// are made for sockets, smallest first; none for generations that come
// soldered.
func ModuleSizes(g Generation) []Capacity { return g.Trait().Sizes }

// ParseGeneration reads "DDR4", "ddr 4", "LPDDR4x", "SDRAM"; a voltage class
// behind it (DDR3L, DDR3U) is returned as its supply in millivolts, 0 where
// none is named.
func ParseGeneration(s string) (g Generation, milliVolts int, ok bool) {
	if s == "" || strings.IndexByte("SDLsdl ", s[0]) < 0 { // as all of them begin; most words that are asked don't
		return GenerationUnknown, 0, false
	}
	name := strings.ToUpper(strings.ReplaceAll(strings.ReplaceAll(strings.TrimSpace(s), " ", ""), "-", ""))
	switch name {
	case "SDRAM", "SDRSDRAM":
		return SDR, 0, true
	case "DDR1", "DDRSDRAM":
		return DDR, 0, true
	}
	name = strings.TrimSuffix(name, "SDRAM")
	for g := SDR; int(g) < len(traits); g++ {
		class, found := strings.CutPrefix(name, traits[g].Name)
		if !found {
			continue
		}
		for i, c := range traits[g].Classes {
			if class == c {
				if c != "" {
					milliVolts = traits[g].MilliVolts[i]
				}
				return g, milliVolts, true
			}
		}
	}
	return GenerationUnknown, 0, false
}

// Contacts returns the number of contacts of a form of the generation, and
// whether it is made in that form at all.
func (g Generation) Contacts(f Form) (contacts int, made bool) {
	for _, t := range g.Trait().Forms {
		if t.Form == f {
			return t.Contacts, true
		}
	}
	return 0, false
}

// Largest returns the largest module of a form and kind that chips of a
// density make, by the number of ranks its standard draws: two ranks of x8
// chips unbuffered, four ranks of x4 chips registered or load-reduced without
// stacked dies. Check bits are not counted. It is 0 where the generation has
// no such form.
func (g Generation) Largest(f Form, k Kind, densityMbit int) Capacity {
	if _, made := g.Contacts(f); !made || f == Soldered {
		return 0
	}
	ranks, width := 2, 8
	if k.Registered() {
		ranks, width = 4, 4
	}
	chips := ranks * 64 / width
	return Capacity(densityMbit) * MiB / 8 * Capacity(chips)
}
