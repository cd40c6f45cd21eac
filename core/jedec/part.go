package jedec

import (
	"regexp"
	"strconv"

	"epitome/core/maybe"
	"epitome/core/pattern"
)

// A PartReading is what the part number of a module by one of the large DRAM
// makers tells, by that maker's published numbering guide. It is leaning
// evidence: numbers are reprinted, relabelled and mistyped.
type PartReading struct {
	Maker      string // whose numbering it follows
	Generation Generation
	MilliVolts int // where the number tells the voltage class, else 0
	Form       Form
	Kind       Kind
	Capacity   maybe.Value[Capacity]
	Width      maybe.Value[int] // data lines a chip
	Grade      maybe.Value[Grade]
	CL         maybe.Value[Latency]
}

// numbering is one maker's scheme: a pattern with named groups, and tables
// for what stands in them. Group "gen" picks the generation, "form" form and
// kind, "speed" the speed code; "depth" and "bus" make a capacity; "width" is
// chip width.
type numbering struct {
	maker   string
	pattern func() *regexp.Regexp
	gen     map[string]partClass
	form    map[string]TypeLetter
	speed   map[string]partSpeed
}

type partClass struct {
	generation Generation
	milliVolts int
}

type partSpeed struct {
	rate Rate
	cl   int
}

var unbufferedDIMM, unbufferedSO = TypeLetter{0, DIMM, Unbuffered}, TypeLetter{0, SODIMM, Unbuffered}

// numberings holds the schemes. Sources: the makers' published module
// part-numbering guides for DDR2 to DDR5.
var numberings = []numbering{
	{maker: "Samsung",
		pattern: pattern.Of(`^M(?P<form>\d{3})(?P<gen>[TBAR])[0-9A-Z]{7}-(?P<volt>[CY])(?P<speed>[A-Z][A-Z0-9]{1})` +
			`0?[A-Z0-9]{0,3}$`),
		gen: map[string]partClass{"T": {DDR2, 1800}, "B": {DDR3, 0}, "A": {DDR4, 1200}, "R": {DDR5, 1100}},
		form: map[string]TypeLetter{"378": unbufferedDIMM, "391": {0, DIMM, UnbufferedECC}, "393": {0, DIMM, RegisteredECC},
			"386": {0, DIMM, LoadReduced},
			"470": unbufferedSO, "471": unbufferedSO, "474": {0, SODIMM, UnbufferedECC}, "323": unbufferedDIMM,
			"324": {0, DIMM, UnbufferedECC},
			"321": {0, DIMM, RegisteredECC}, "425": unbufferedSO},
		speed: map[string]partSpeed{"E6": {667, 5}, "E7": {800, 5}, "F7": {800, 6}, "F8": {1066, 7}, "H9": {1333, 9},
			"K0": {1600, 11}, "MA": {1866, 13}, "NB": {2133, 14},
			"PB": {2133, 15}, "RC": {2400, 17}, "TD": {2666, 19}, "VF": {2933, 21}, "WE": {3200, 22}, "QK": {4800, 40},
			"WM": {5600, 46}},
	},
	{maker: "SK Hynix",
		pattern: pattern.Of(`^HM(?P<gen>[TA])[0-9A-G]{3}(?P<form>[USRLTE][678])[A-Z]FR(?P<width>[48])` +
			`[A-Z]-(?P<speed>[A-Z][A-Z0-9])$`),
		gen: map[string]partClass{"T": {DDR3, 0}, "A": {DDR4, 1200}},
		form: map[string]TypeLetter{"U6": unbufferedDIMM, "S6": unbufferedSO, "U7": {0, DIMM, UnbufferedECC},
			"S7": {0, SODIMM, UnbufferedECC},
			"R7": {0, DIMM, RegisteredECC}, "L7": {0, DIMM, LoadReduced}},
		speed: map[string]partSpeed{"G7": {1066, 7}, "H9": {1333, 9}, "PB": {1600, 11}, "RD": {1866, 13}, "TE": {2133, 14},
			"TF": {2133, 15}, "UH": {2400, 17}, "VK": {2666, 19}, "WM": {2933, 21}, "XN": {3200, 22}},
	},
	{maker: "Micron Technology",
		pattern: pattern.Of(`^MT(?P<gen>A|C|\d{1,2}[JK])\d{0,2}[A-Z]{1,3}(?P<depth>128|256|512|1G|2G|4G|8G)` +
			`(?P<bus>64|72)(?P<form>AZ|HZ|PZ|PDZ|HDZ|AKZ|LZ)-(?P<speed>\dG\d|\d\dB)[A-Z]?\d?[A-Z]?\d?$`),
		gen: map[string]partClass{"A": {DDR4, 1200}, "C": {DDR5, 1100}, "J": {DDR3, 1500}, "K": {DDR3, 1350}},
		form: map[string]TypeLetter{"AZ": unbufferedDIMM, "HZ": unbufferedSO, "HDZ": unbufferedSO,
			"PZ":  {0, DIMM, RegisteredECC},
			"PDZ": {0, DIMM, RegisteredECC}, "LZ": {0, DIMM, LoadReduced}},
		speed: map[string]partSpeed{"1G1": {1066, 7}, "1G4": {1333, 9}, "1G6": {1600, 11}, "1G9": {1866, 13},
			"2G1": {2133, 15}, "2G3": {2400, 17}, "2G6": {2666, 19}, "2G9": {2933, 21}, "3G2": {3200, 22}, "48B": {4800, 40},
			"56B": {5600, 46}},
	},
}

// ReadPart reads a part number by the numbering guides it knows. ok is false
// where it follows none of them, or a code in it is not in the guide's tables.
func ReadPart(s string) (p PartReading, ok bool) {
	if len(s) < 10 || len(s) > 32 || s[0] != 'M' && s[0] != 'H' {
		return p, false
	}
	for _, n := range numberings {
		if m := n.pattern().FindStringSubmatch(s); m != nil {
			return n.read(m)
		}
	}
	return p, false
}

func (n numbering) read(match []string) (p PartReading, ok bool) {
	group := func(name string) string {
		if i := n.pattern().SubexpIndex(name); i >= 0 {
			return match[i]
		}
		return ""
	}
	code := group("gen")
	class, known := n.gen[code[len(code)-1:]]
	if !known {
		return p, false
	}
	form, known := n.form[group("form")]
	if !known {
		return p, false
	}
	p = PartReading{Maker: n.maker, Generation: class.generation, MilliVolts: class.milliVolts, Form: form.Form,
		Kind: form.Kind}
	if speed, known := n.speed[group("speed")]; known {
		if grade, real := GradeAt(p.Generation, speed.rate); real {
			p.Grade, p.CL = maybe.Just(grade), maybe.Just(Whole(speed.cl))
		}
	}
	if group("volt") == "Y" && p.Generation == DDR3 {
		p.MilliVolts = 1350
	}
	if width, err := strconv.Atoi(group("width")); err == nil {
		p.Width = maybe.Just(width)
	}
	p.ecc(group("bus"))
	p.Capacity = depth(group("depth"))
	return p, true
}

// ecc marks check bits where the bus is 72 bits wide.
func (p *PartReading) ecc(bus string) {
	if bus == "72" && p.Kind == Unbuffered {
		p.Kind = UnbufferedECC
	}
}

// depth is the number of 64-bit words: "512" million, "1G".
func depth(code string) maybe.Value[Capacity] {
	number, n := digits(code)
	switch {
	case n == 0:
		return maybe.None[Capacity]()
	case n < len(code):
		return maybe.Just(Capacity(number) * 8 * GiB)
	}
	return maybe.Just(Capacity(number) * 8 * MiB)
}
