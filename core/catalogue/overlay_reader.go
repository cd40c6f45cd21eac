package catalogue

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/pattern"
	"epitome/core/plain"
)

// An overlayReader reads the nodes of one file and collects what is wrong
// with them. Each of its methods that returns a take reads one kind of value.
type overlayReader struct {
	file   string
	faults []Fault
}

// A take reads one value into where it belongs.
type take = func(*yaml.Node)

// fields says which keys a mapping may have, and how each is read.
type fields map[string]take

func (r *overlayReader) fault(n *yaml.Node, format string, args ...any) {
	r.faults = append(r.faults, Fault{r.file, max(n.Line, 1), plain.Line(fmt.Sprintf(format, args...))})
}

func (r *overlayReader) at(n *yaml.Node) string { return fmt.Sprintf("%s:%d", r.file, n.Line) }

// fields reads a mapping. Unknown and repeated keys are faults.
func (r *overlayReader) fields(n *yaml.Node, what string, known fields) {
	if n.Kind != yaml.MappingNode {
		r.fault(n, "%s is a list of keys with values, such as %s: …", what, slices.Sorted(maps.Keys(known))[0])
		return
	}
	seen := make(map[string]bool)
	for _, pair := range generationFirst(n.Content) {
		key, value := pair[0], pair[1]
		read, ok := known[key.Value]
		switch {
		case !ok:
			r.fault(key, "unknown key %q of %s; there are %s", key.Value, what, strings.Join(slices.Sorted(maps.Keys(known)), ", "))
		case seen[key.Value]:
			r.fault(key, "%q stands twice", key.Value)
		case value.Kind == yaml.AliasNode:
			r.fault(value, "%s refers to another entry; write it out", key.Value)
		case value.Tag == "!!null":
			// Left empty: not known.
		default:
			read(value)
		}
		seen[key.Value] = true
	}
}

// generationFirst pairs keys with values, the generation before the figures
// that are checked against it.
func generationFirst(content []*yaml.Node) (pairs [][2]*yaml.Node) {
	for i := 0; i+1 < len(content); i += 2 {
		pair := [2]*yaml.Node{content[i], content[i+1]}
		if strings.HasPrefix(content[i].Value, "generation") {
			pairs = slices.Insert(pairs, 0, pair)
		} else {
			pairs = append(pairs, pair)
		}
	}
	return pairs
}

// wants names the keys without which an entry is of no use.
func (r *overlayReader) wants(n *yaml.Node, what string, has map[string]bool) {
	for _, key := range slices.Sorted(maps.Keys(has)) {
		if !has[key] {
			r.fault(n, "%s wants %s", what, key)
		}
	}
}

func (r *overlayReader) each(read func(*yaml.Node)) take {
	return func(n *yaml.Node) {
		if n.Kind != yaml.SequenceNode {
			r.fault(n, "a list is wanted here, each entry on a line that begins with a dash")
			return
		}
		for _, entry := range n.Content {
			read(entry)
		}
	}
}

func (r *overlayReader) scalar(n *yaml.Node) (string, bool) {
	if n.Kind != yaml.ScalarNode {
		r.fault(n, "one value is wanted here")
		return "", false
	}
	return plain.Line(n.Value), true
}

func (r *overlayReader) text(into *string) take {
	return func(n *yaml.Node) {
		if s, ok := r.scalar(n); ok {
			*into = s
		}
	}
}

// list reads one value or a list of them.
func (r *overlayReader) list(n *yaml.Node, read func(*yaml.Node)) {
	if n.Kind == yaml.ScalarNode {
		read(n)
		return
	}
	r.each(read)(n)
}

func (r *overlayReader) texts(into *[]string) take {
	return func(n *yaml.Node) {
		r.list(n, func(n *yaml.Node) {
			if s, ok := r.scalar(n); ok && s != "" {
				*into = append(*into, s)
			}
		})
	}
}

// count reads a whole number within bounds; 0x is understood.
func (r *overlayReader) count(into *int, least, most int) take {
	return func(n *yaml.Node) {
		s, ok := r.scalar(n)
		if !ok {
			return
		}
		v, err := strconv.ParseInt(s, 0, 32)
		if err != nil || int(v) < least || int(v) > most {
			r.fault(n, "%q: a whole number from %d to %d is wanted", s, least, most)
			return
		}
		*into = int(v)
	}
}

func (r *overlayReader) counts(into *[]int, least, most int) take {
	return func(n *yaml.Node) {
		r.list(n, func(n *yaml.Node) {
			v, faults := 0, len(r.faults)
			if r.count(&v, least, most)(n); len(r.faults) == faults {
				*into = append(*into, v)
			}
		})
	}
}

func (r *overlayReader) maybeCount(into *maybe.Value[int], least, most int) take {
	return func(n *yaml.Node) {
		v, faults := 0, len(r.faults)
		if r.count(&v, least, most)(n); len(r.faults) == faults {
			*into = maybe.Just(v)
		}
	}
}

func (r *overlayReader) yesNo(into *maybe.Value[bool]) take {
	return func(n *yaml.Node) {
		switch s, ok := r.scalar(n); {
		case !ok:
		case s == "yes" || s == "true":
			*into = maybe.Just(true)
		case s == "no" || s == "false":
			*into = maybe.Just(false)
		default:
			r.fault(n, "%q: yes or no is wanted", s)
		}
	}
}

// sizeAt reads a size and checks that memory comes in it.
func (r *overlayReader) sizeAt(n *yaml.Node, into *maybe.Value[jedec.Capacity]) (jedec.Capacity, bool) {
	s, ok := r.scalar(n)
	if !ok {
		return 0, false
	}
	size, err := jedec.ParseCapacity(s)
	if err != nil || size < jedec.MiB || size > 16*jedec.TiB {
		r.fault(n, "%q: a size with MB, GB or TB is wanted, as 32GB", s)
		return 0, false
	}
	*into = maybe.Just(size)
	return size, true
}

func (r *overlayReader) size(into *maybe.Value[jedec.Capacity]) take {
	return func(n *yaml.Node) { r.sizeAt(n, into) }
}

// module reads the size of a module.
func (r *overlayReader) module(into *maybe.Value[jedec.Capacity]) take {
	return func(n *yaml.Node) {
		if size, ok := r.sizeAt(n, into); ok && !jedec.PlausibleModule(size) {
			r.fault(n, "%v: no module of that size is made; they come in powers of two, and in 12, 24, 48 and 96 GB", size)
		}
	}
}

// rateOf returns the reader of rates of a generation, which is read before
// them or not known.
func (r *overlayReader) rateOf(g *jedec.Generation) func(*maybe.Value[jedec.Rate]) take {
	return func(into *maybe.Value[jedec.Rate]) take {
		return func(n *yaml.Node) {
			s, ok := r.scalar(n)
			if !ok {
				return
			}
			v, err := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(s, "MT/s")))
			if err != nil {
				r.fault(n, "%q: a data rate in MT/s is wanted, as 3200; a clock in MHz is half of it", s)
				return
			}
			if rate, why := realRate(*g, v); why != "" {
				r.fault(n, "%s", why)
			} else {
				*into = maybe.Just(rate)
			}
		}
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

func (r *overlayReader) density(into *maybe.Value[int], g *jedec.Generation) take {
	return func(n *yaml.Node) {
		s, ok := r.scalar(n)
		if !ok {
			return
		}
		unit := 1024.0
		figure := strings.TrimSpace(strings.TrimSuffix(s, "Gbit"))
		if strings.HasSuffix(s, "Mbit") {
			unit, figure = 1, strings.TrimSpace(strings.TrimSuffix(s, "Mbit"))
		}
		v, err := strconv.ParseFloat(figure, 64)
		if err != nil || figure == s {
			r.fault(n, "%q: a die density with Gbit or Mbit is wanted, as 8Gbit", s)
			return
		}
		mbit := int(v * unit)
		if legal := g.Trait().Densities; len(legal) > 0 && !slices.Contains(legal, mbit) {
			r.fault(n, "%v dies of %s are not made; there are %v Mbit", *g, s, legal)
			return
		}
		*into = maybe.Just(mbit)
	}
}

func (r *overlayReader) volts(into *[]int, g *jedec.Generation) take {
	return func(n *yaml.Node) {
		r.list(n, func(n *yaml.Node) {
			s, ok := r.scalar(n)
			if !ok {
				return
			}
			v, err := strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(s, "V")), 64)
			mv := int(v*1000 + 0.5)
			if err != nil || mv < 900 || mv > 3600 || *g != jedec.GenerationUnknown && !g.RunsAt(mv) {
				r.fault(n, "%q: a supply of the generation in V is wanted, as 1.35", s)
				return
			}
			*into = append(*into, mv)
		})
	}
}

// eccKinds are the words of the tables for modules with check bits or a
// register.
var eccKinds = []string{"udimm", "so-dimm-ecc", "rdimm", "lrdimm"}

func (r *overlayReader) kinds(into *maybe.Value[[]string]) take {
	return func(n *yaml.Node) {
		if n.Kind == yaml.ScalarNode && n.Value == "none" {
			*into = maybe.Just([]string{})
			return
		}
		var list []string
		faults := len(r.faults)
		if r.oneOfList(&list, eccKinds...)(n); len(r.faults) == faults {
			*into = maybe.Just(list)
		}
	}
}

func (r *overlayReader) oneOfList(into *[]string, allowed ...string) take {
	return func(n *yaml.Node) {
		r.list(n, func(n *yaml.Node) {
			if s, ok := r.scalar(n); ok && slices.Contains(allowed, s) {
				*into = append(*into, s)
			} else if ok {
				r.fault(n, "%q: one of none, %s is wanted", s, strings.Join(allowed, ", "))
			}
		})
	}
}

func (r *overlayReader) confidence(into *Confidence) take {
	return func(n *yaml.Node) {
		if s, ok := r.scalar(n); ok && slices.Contains([]string{"high", "medium", "low"}, s) {
			*into = Confidence(s)
		} else if ok {
			r.fault(n, "%q: high, medium or low is wanted", s)
		}
	}
}

func (r *overlayReader) form(into *maybe.Value[jedec.Form]) take {
	return func(n *yaml.Node) {
		s, ok := r.scalar(n)
		if !ok {
			return
		}
		if f, known := jedec.ParseForm(s); known {
			*into = maybe.Just(f)
			return
		}
		r.fault(n, "%q: DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2 is wanted", s)
	}
}

func (r *overlayReader) generation(into *string, as *jedec.Generation) take {
	return func(n *yaml.Node) {
		s, ok := r.scalar(n)
		if !ok {
			return
		}
		g, mv, known := jedec.ParseGeneration(s)
		if !known {
			r.fault(n, "%q is no generation; DDR4, DDR3L, LPDDR5 and the like are", s)
			return
		}
		*into, *as = g.String(), g
		if g == jedec.DDR3 && mv == 1350 {
			*into = "DDR3L"
		}
	}
}

func (r *overlayReader) generations(into *[]string) take {
	return r.generationsInto(into, new(jedec.Generation))
}

// generationsInto also keeps the generation where there is only one, for the
// figures that depend on it.
func (r *overlayReader) generationsInto(into *[]string, only *jedec.Generation) take {
	return func(n *yaml.Node) {
		r.list(n, func(n *yaml.Node) {
			var name string
			r.generation(&name, only)(n)
			if name != "" {
				*into = append(*into, name)
			}
		})
		if len(*into) != 1 {
			*only = jedec.GenerationUnknown
		}
	}
}

func (r *overlayReader) expression(into *string) take {
	return func(n *yaml.Node) {
		if s, ok := r.scalar(n); ok {
			if _, err := regexp.Compile(s); err != nil {
				r.fault(n, "brand: %v", err)
				return
			}
			*into = s
		}
	}
}

var pciID = pattern.Of(`^[0-9a-f]{4}:[0-9a-f]{4}$`)

func (r *overlayReader) pciIDs(into *[]string) take {
	return func(n *yaml.Node) {
		r.list(n, func(n *yaml.Node) {
			s, ok := r.scalar(n)
			if s = strings.ToLower(s); ok && pciID().MatchString(s) {
				*into = append(*into, s)
			} else if ok {
				r.fault(n, "%q is no PCI id; vendor:device is wanted, as 8086:a305", s)
			}
		})
	}
}

var yamlLine = pattern.Of(`^yaml: line ([0-9]+): (.*)$`)

// yamlError splits the reader's own error into line and words.
func yamlError(err error) (int, string) {
	if m := yamlLine().FindStringSubmatch(err.Error()); m != nil {
		line, _ := strconv.Atoi(m[1])
		return line, m[2]
	}
	return 1, strings.TrimPrefix(err.Error(), "yaml: ")
}
