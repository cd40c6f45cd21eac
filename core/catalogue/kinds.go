package catalogue

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/pattern"
)

// A kind is what a field holds: how one value is read from an entry file and from an
// embedded table, written, shown and put into JSON.
type kind[T any] struct {
	schema string                                            // JSON's type
	read   func(text string, g jedec.Generation) (T, string) // or what is wrong with it
	column func(text string) (T, bool)                       // nil: as read
	write  func(T) string
	show   func(T) string           // nil: as written
	json   func(T) any              // nil: the value itself
	number func(T) int              // in the embedded tables' unit; nil where it is no limit
	whole  bool                     // a comma belongs to it
	tells  func(T) jedec.Generation // what the figures behind it are checked against
}

func (k kind[T]) fromTable(text string) (T, bool) {
	if k.column != nil {
		return k.column(text)
	}
	v, wrong := k.read(text, jedec.GenerationUnknown)
	return v, wrong == "" && text != ""
}

func (k kind[T]) toShow(v T) string {
	if k.show != nil {
		return k.show(v)
	}
	return k.write(v)
}

func (k kind[T]) toJSON(v T) any {
	if k.json != nil {
		return k.json(v)
	}
	return v
}

// The kinds of single values.

func words() kind[string] {
	as := func(s string) string { return s }
	return kind[string]{schema: "string", read: func(s string, _ jedec.Generation) (string, string) { return s, "" },
		write: as, whole: true}
}

// counts are whole numbers within bounds; 0x is understood.
func counts(least, most int) kind[int] {
	return kind[int]{
		schema: "integer",
		read: func(s string, _ jedec.Generation) (int, string) {
			v, err := strconv.ParseInt(s, 0, 32)
			if err != nil || int(v) < least || int(v) > most {
				return 0, fmt.Sprintf("%q: a whole number from %d to %d is wanted", s, least, most)
			}
			return int(v), ""
		},
		column: func(s string) (int, bool) {
			v, err := strconv.ParseInt(s, 0, 32)
			return int(v), err == nil
		},
		write: strconv.Itoa, number: func(v int) int { return v },
	}
}

func answers() kind[bool] {
	said := func(v bool) string { return map[bool]string{true: "yes", false: "no"}[v] }
	return kind[bool]{
		schema: "boolean",
		read: func(s string, _ jedec.Generation) (bool, string) {
			switch s {
			case "yes", "true":
				return true, ""
			case "no", "false":
				return false, ""
			}
			return false, fmt.Sprintf("%q: yes or no is wanted", s)
		},
		write: said,
	}
}

// sizes are capacities; the embedded tables have them in GB.
func sizes() kind[jedec.Capacity] {
	return kind[jedec.Capacity]{
		schema: "integer",
		read: func(s string, _ jedec.Generation) (jedec.Capacity, string) {
			size, err := jedec.ParseCapacity(s)
			if err != nil || size < jedec.MiB || size > 16*jedec.TiB {
				return 0, fmt.Sprintf("%q: a size with MB, GB or TB is wanted, as 32GB", s)
			}
			return size, ""
		},
		column: func(s string) (jedec.Capacity, bool) {
			gb, err := strconv.ParseFloat(s, 64)
			return jedec.Capacity(gb * float64(jedec.GiB)), err == nil
		},
		write: compact, show: jedec.Capacity.String, number: func(c jedec.Capacity) int { return int(c / jedec.GiB) },
	}
}

// moduleSizes are the sizes of modules: only those that memory comes in.
func moduleSizes() kind[jedec.Capacity] {
	k := sizes()
	any := k.read
	k.read = func(s string, g jedec.Generation) (jedec.Capacity, string) {
		size, wrong := any(s, g)
		if wrong == "" && !jedec.PlausibleModule(size) {
			wrong = fmt.Sprintf("%v: no module of that size is made; they come in powers of two, and in 12, 24, 48 and 96 GB",
				size)
		}
		return size, wrong
	}
	return k
}

// mebibytes are the sizes of a table that has them in MiB.
func mebibytes() kind[jedec.Capacity] {
	k := sizes()
	k.column = func(s string) (jedec.Capacity, bool) {
		n, err := strconv.Atoi(s)
		return jedec.Capacity(n) * jedec.MiB, err == nil
	}
	return k
}

// rates are data rates in MT/s that the generation has, which is read before them.
func rates() kind[jedec.Rate] {
	return kind[jedec.Rate]{
		schema: "integer",
		read: func(s string, g jedec.Generation) (jedec.Rate, string) {
			v, err := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(s, "MT/s")))
			if err != nil {
				return 0, fmt.Sprintf("%q: a data rate in MT/s is wanted, as 3200; a clock in MHz is half of it", s)
			}
			return realRate(g, v)
		},
		column: func(s string) (jedec.Rate, bool) {
			v, err := strconv.Atoi(s)
			return jedec.Rate(v), err == nil
		},
		write:  func(r jedec.Rate) string { return strconv.Itoa(int(r)) },
		number: func(r jedec.Rate) int { return int(r) },
	}
}

// realRate checks a figure against the grades that exist.
func realRate(g jedec.Generation, v int) (jedec.Rate, string) {
	if g == jedec.GenerationUnknown {
		for _, other := range jedec.Generations() {
			if x, ok := jedec.GradeAt(other, jedec.Rate(v)); ok {
				return x.Rate, ""
			}
		}
		return 0, fmt.Sprintf("%d MT/s is a rate of no generation", v)
	}
	if x, ok := jedec.GradeAt(g, jedec.Rate(v)); ok {
		return x.Rate, ""
	}
	var real []string
	for _, x := range jedec.Grades(g) {
		real = append(real, strconv.Itoa(int(x.Rate)))
	}
	return 0, fmt.Sprintf("%v has no rate of %d MT/s; there are %s", g, v, strings.Join(real, ", "))
}

// dies are densities in Mbit; the embedded tables have them in Gbit.
func dies() kind[int] {
	return kind[int]{
		schema: "number",
		read: func(s string, g jedec.Generation) (int, string) {
			unit := 1024.0
			figure := strings.TrimSpace(strings.TrimSuffix(s, "Gbit"))
			if strings.HasSuffix(s, "Mbit") {
				unit, figure = 1, strings.TrimSpace(strings.TrimSuffix(s, "Mbit"))
			}
			v, err := strconv.ParseFloat(figure, 64)
			if err != nil || figure == s {
				return 0, fmt.Sprintf("%q: a die density with Gbit or Mbit is wanted, as 8Gbit", s)
			}
			mbit := int(v * unit)
			if legal := g.Trait().Densities; len(legal) > 0 && !slices.Contains(legal, mbit) {
				return 0, fmt.Sprintf("%v dies of %s are not made; there are %s", g, s, joined(legal, dieText))
			}
			return mbit, ""
		},
		column: func(s string) (int, bool) {
			v, err := strconv.ParseFloat(s, 64)
			return int(v * 1024), err == nil
		},
		write: func(mbit int) string { return strings.ReplaceAll(dieText(mbit), " ", "") }, show: dieText,
		json:   func(mbit int) any { return float64(mbit) / 1024 },
		number: func(mbit int) int { return mbit / 1024 },
	}
}

// dieText writes a die density as the trade does, "8 Gbit", "512 Mbit".
func dieText(mbit int) string {
	if mbit%1024 != 0 {
		return fmt.Sprintf("%d Mbit", mbit)
	}
	return fmt.Sprintf("%d Gbit", mbit/1024)
}

// supplies are voltages in mV; files and tables have them in V.
func supplies() kind[int] {
	volt := func(mv int) string { return strconv.FormatFloat(float64(mv)/1000, 'f', -1, 64) }
	return kind[int]{
		schema: "number",
		read: func(s string, g jedec.Generation) (int, string) {
			v, err := strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(s, "V")), 64)
			mv := int(v*1000 + 0.5)
			if err != nil || mv < 900 || mv > 3600 || g != jedec.GenerationUnknown && !g.RunsAt(mv) {
				return 0, fmt.Sprintf("%q: a supply of the generation in V is wanted, as 1.35", s)
			}
			return mv, ""
		},
		column: func(s string) (int, bool) {
			v, err := strconv.ParseFloat(s, 64)
			return int(v*1000 + 0.5), err == nil
		},
		write: volt, show: func(mv int) string { return volt(mv) + " V" },
		json: func(mv int) any { return float64(mv) / 1000 },
	}
}

// oneOf are words of a list.
func oneOf(allowed ...string) kind[string] {
	k := words()
	k.whole = false
	k.read = func(s string, _ jedec.Generation) (string, string) {
		if slices.Contains(allowed, s) {
			return s, ""
		}
		return "", fmt.Sprintf("%q: one of none, %s is wanted", s, strings.Join(allowed, ", "))
	}
	k.column = func(s string) (string, bool) { return s, s != "" }
	return k
}

// eccKinds are the words of the tables for modules with check bits or a
// register.
func eccKinds() kind[string] { return oneOf("udimm", "so-dimm-ecc", "rdimm", "lrdimm", "fbdimm") }

func confidences() kind[Confidence] {
	return kind[Confidence]{
		schema: "string",
		read: func(s string, _ jedec.Generation) (Confidence, string) {
			if slices.Contains([]string{"high", "medium", "low"}, s) {
				return Confidence(s), ""
			}
			return "", fmt.Sprintf("%q: high, medium or low is wanted", s)
		},
		write: func(c Confidence) string { return string(c) },
	}
}

func forms() kind[jedec.Form] {
	return kind[jedec.Form]{
		schema: "string",
		read: func(s string, _ jedec.Generation) (jedec.Form, string) {
			if f, known := jedec.ParseForm(s); known {
				return f, ""
			}
			return jedec.FormUnknown, fmt.Sprintf("%q: DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2 is wanted", s)
		},
		write: jedec.Form.String, json: func(f jedec.Form) any { return f.String() },
	}
}

// generationNames are generations as the tables name them: DDR3L is apart.
func generationNames() kind[string] {
	k := words()
	k.whole = false
	k.read = func(s string, _ jedec.Generation) (string, string) {
		g, mv, known := jedec.ParseGeneration(s)
		switch {
		case !known:
			return "", fmt.Sprintf("%q is no generation; DDR4, DDR3L, LPDDR5 and the like are", s)
		case g == jedec.DDR3 && mv == 1350:
			return "DDR3L", ""
		}
		return g.String(), ""
	}
	k.column = func(s string) (string, bool) { return s, s != "" }
	k.tells = func(name string) jedec.Generation {
		g, _, _ := jedec.ParseGeneration(name)
		return g
	}
	return k
}

func generations() kind[jedec.Generation] {
	return kind[jedec.Generation]{
		schema: "string",
		read: func(s string, _ jedec.Generation) (jedec.Generation, string) {
			g, _, known := jedec.ParseGeneration(s)
			if !known {
				return g, fmt.Sprintf("%q is no generation; DDR4, DDR3L, LPDDR5 and the like are", s)
			}
			return g, ""
		},
		write: jedec.Generation.String, json: func(g jedec.Generation) any { return g.String() },
	}
}

func expressions() kind[string] {
	k := words()
	k.read = func(s string, _ jedec.Generation) (string, string) {
		if _, err := regexp.Compile(s); err != nil {
			return "", fmt.Sprintf("brand: %v", err)
		}
		return s, ""
	}
	return k
}

var pciID = pattern.Of(`^[0-9a-f]{4}:[0-9a-f]{4}$`)

func pciIDs() kind[string] {
	k := words()
	k.whole = false
	k.read = func(s string, _ jedec.Generation) (string, string) {
		if s = strings.ToLower(s); pciID().MatchString(s) {
			return s, ""
		}
		return "", fmt.Sprintf("%q is no PCI id; vendor:device is wanted, as 8086:a305", s)
	}
	return k
}

func joined[T any](values []T, as func(T) string) string {
	var texts []string
	for _, v := range values {
		texts = append(texts, as(v))
	}
	return strings.Join(texts, ", ")
}

func listNode(texts []string) *yaml.Node {
	n := &yaml.Node{Kind: yaml.SequenceNode, Style: yaml.FlowStyle}
	for _, t := range texts {
		n.Content = append(n.Content, scalarNode(t))
	}
	return n
}
