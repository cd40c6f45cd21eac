// Package prove is the arithmetic of a memory proof: the patterns that are written and read
// back, the loops that measure, and what their figures come to. It is handed memory and a
// clock, and has neither of its own.
package prove

import "math/bits"

// Word is one unit of memory, 8 bytes.
const Word = 8

// A Pattern gives every word of memory a value by where it stands.
type Pattern struct {
	Name string
	at   func(index, round, seed uint64) uint64
	// Rounds is how many different fillings it has: one for each bit that walks.
	Rounds int
}

// Patterns are the fillings, in the order in which they are tried: first those that find
// address lines, then those that find cells and their neighbours.
var Patterns = []Pattern{
	{"address", func(i, _, _ uint64) uint64 { return i }, 1},
	{"address complement", func(i, _, _ uint64) uint64 { return ^i }, 1},
	{"checkerboard", func(i, round, _ uint64) uint64 { return checker(i + round) }, 2},
	{"walking ones", func(i, round, _ uint64) uint64 { return 1 << ((i + round) % 64) }, walks},
	{"walking zeros", func(i, round, _ uint64) uint64 { return ^(uint64(1) << ((i + round) % 64)) }, walks},
	{randomName, random, 1},
}

const randomName = "random"

// walks is how many rounds a walking bit takes: neighbours hold neighbouring bits, so after
// eight rounds of eight steps each bit of each word was alone.
const walks = 8

func checker(i uint64) uint64 {
	if i%2 == 0 {
		return 0xAAAA_AAAA_AAAA_AAAA
	}
	return 0x5555_5555_5555_5555
}

// random mixes place and seed so that every bit of either changes half of the value (the
// finaliser of SplitMix64, Steele, Lea and Flood 2014).
func random(i, _, seed uint64) uint64 {
	z := (i + 1) * 0x9E37_79B9_7F4A_7C15
	z ^= seed
	z = (z ^ z>>30) * 0xBF58_476D_1CE4_E5B9
	z = (z ^ z>>27) * 0x94D0_49BB_1331_11EB
	return z ^ z>>31
}

// step is how far the bit of a walking pattern moves from round to round.
const step = 64 / walks

// Value is what the word at an index holds in a round.
func (p Pattern) Value(index uint64, round int, seed uint64) uint64 {
	if p.Rounds == walks {
		return p.at(index, uint64(round*step), seed)
	}
	return p.at(index, uint64(round), seed)
}

// period is after how many words the patterns repeat that repeat at all.
const period = 64

// values are what the words behind an index hold, as a function that the compiler can see
// through: a table for patterns that repeat, a sum or a mix for the others.
func (p Pattern) values(round int, seed uint64) (table *[period]uint64, flip uint64) {
	switch p.Name {
	case "address":
		return nil, 0
	case "address complement":
		return nil, ^uint64(0)
	case randomName:
		return nil, 0
	}
	table = new([period]uint64)
	for i := range table {
		table[i] = p.Value(uint64(i), round, seed)
	}
	return table, 0
}

// Fill writes a pattern into memory whose first word stands at an index of the whole.
func (p Pattern) Fill(memory []uint64, base uint64, round int, seed uint64) {
	table, flip := p.values(round, seed)
	switch {
	case table != nil:
		for i := range memory {
			memory[i] = table[(base+uint64(i))%period]
		}
	case p.Name == randomName:
		for i := range memory {
			memory[i] = random(base+uint64(i), 0, seed)
		}
	default:
		for i := range memory {
			memory[i] = (base + uint64(i)) ^ flip
		}
	}
}

// differs is the place of the first word from a place on that does not hold what it should,
// or the length of the memory.
func (p Pattern) differs(memory []uint64, from int, base uint64, seed uint64, table *[period]uint64, flip uint64) int {
	switch {
	case table != nil:
		for i := from; i < len(memory); i++ {
			if memory[i] != table[(base+uint64(i))%period] {
				return i
			}
		}
	case p.Name == randomName:
		for i := from; i < len(memory); i++ {
			if memory[i] != random(base+uint64(i), 0, seed) {
				return i
			}
		}
	default:
		for i := from; i < len(memory); i++ {
			if memory[i] != (base+uint64(i))^flip {
				return i
			}
		}
	}
	return len(memory)
}

// A Fault is a word that did not read back as it was written.
type Fault struct {
	Offset  uint64 // in bytes, into the memory that was proved
	Pattern string
	Wrote   uint64
	Read    uint64
	Again   bool // it failed again when it was written and read once more
}

// Bits is how many bits of the word are wrong.
func (f Fault) Bits() int { return bits.OnesCount64(f.Wrote ^ f.Read) }

// Check reads a pattern back and hands each word that differs to found, which says whether
// to go on. Each is written and read once more, so that a cell that is broken is told from
// one that was disturbed.
func (p Pattern) Check(memory []uint64, base uint64, round int, seed uint64, found func(Fault) bool) {
	table, flip := p.values(round, seed)
	for i := p.differs(memory, 0, base, seed, table, flip); i < len(memory); i = p.differs(memory, i+1, base, seed,
		table, flip) {
		want := p.Value(base+uint64(i), round, seed)
		f := Fault{Offset: (base + uint64(i)) * Word, Pattern: p.Name, Wrote: want, Read: memory[i]}
		f.Again = fails(&memory[i], want)
		if !found(f) {
			return
		}
	}
}

// fails writes a word, and its complement, and reads each back.
//
//go:noinline
func fails(word *uint64, want uint64) bool {
	for _, v := range []uint64{want, ^want, want} {
		store(word, v)
		if load(word) != v {
			return true
		}
	}
	return false
}
