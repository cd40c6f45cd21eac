package view

import (
	"encoding/json"
	"fmt"
	"io"
	"unicode/utf16"
	"unicode/utf8"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/propose"
)

// WriteJSON writes v as indented JSON with a newline behind. Characters that
// act on a terminal are escaped, so that the value stays whole and harmless.
func WriteJSON(w io.Writer, v any) error {
	e := json.NewEncoder(escaper{w})
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(v)
}

// An escaper writes what acts as \uXXXX. Outside of its strings JSON holds
// nothing of the kind but line feeds. It is given whole values.
type escaper struct{ out io.Writer }

func (x escaper) Write(p []byte) (int, error) {
	from := 0
	for at := 0; at < len(p); {
		r, size := utf8.DecodeRune(p[at:])
		if r == '\n' || !plain.Acts(r) {
			at += size
			continue
		}
		if _, err := x.out.Write(p[from:at]); err != nil {
			return 0, err
		}
		escape := fmt.Sprintf(`\u%04x`, r)
		if high, low := utf16.EncodeRune(r); high != utf8.RuneError {
			escape = fmt.Sprintf(`\u%04x\u%04x`, high, low)
		}
		if _, err := io.WriteString(x.out, escape); err != nil {
			return 0, err
		}
		at += size
		from = at
	}
	_, err := x.out.Write(p[from:])
	return len(p), err
}

// finding is the promised shape of every finding.
type finding struct {
	Value    any           `json:"value"`
	Standing fact.Standing `json:"standing"`
	Why      []supportJSON `json:"why"`
	Against  []supportJSON `json:"against"`
}

type supportJSON struct {
	Source string `json:"source"`
	Says   string `json:"says"`
}

// found turns a finding into its JSON shape; its value goes through as.
func found[T comparable, U any](f fact.Fact[T], as func(T) U) finding {
	out := finding{Standing: f.Standing(), Why: supports(f.Why()), Against: supports(f.Against())}
	if v, ok := f.Get(); ok {
		out.Value = as(v)
	}
	return out
}

func plainly[T any](v T) T { return v }

func supports(s []fact.Support) []supportJSON {
	out := make([]supportJSON, len(s))
	for i, x := range s {
		out[i] = supportJSON(x)
	}
	return out
}

// orNull returns nil, which JSON writes as null, for an empty string.
func orNull(s string) maybe.Value[string] { return maybe.If(s, s != "") }

type briefJSON struct {
	Schema    string         `json:"schema"`
	Machine   map[string]any `json:"machine"`
	Totals    map[string]any `json:"totals"`
	Places    []object       `json:"places"`
	Conflicts []conflictJSON `json:"conflicts"`
	Improve   any            `json:"improve"` // what could be better without buying
	Open      []openJSON     `json:"open"`
}

type conflictJSON struct {
	About   machine.Subject `json:"about"`
	Says    string          `json:"says"`
	Sources []string        `json:"sources"`
}

type openJSON struct {
	About   machine.Subject `json:"about"`
	Settles string          `json:"settles"`
}

// BriefJSON returns the value that brief --format json writes.
func BriefJSON(m machine.Machine, reachable fact.Fact[jedec.Capacity], free []propose.Gain) any {
	out := briefJSON{
		Schema:  "epitome.brief.v1",
		Machine: findings(&m, machine.OfMachine), Totals: findings(&m, machine.OfTotals),
		Places: []object{}, Conflicts: []conflictJSON{}, Open: []openJSON{}, Improve: gainsJSON(free),
	}
	out.Totals["reachable_mib"] = found(reachable, jedec.Capacity.MiB)
	for i := range m.Places {
		out.Places = append(out.Places, placeFindings(&m, &m.Places[i]))
	}
	for _, c := range m.Conflicts {
		out.Conflicts = append(out.Conflicts, conflictJSON(c))
	}
	for _, o := range m.Open {
		out.Open = append(out.Open, openJSON(o))
	}
	return out
}

// findings are the facts of a machine of one part, by their keys.
func findings(m *machine.Machine, part machine.Part) map[string]any {
	out := make(map[string]any)
	for _, r := range machine.Rows() {
		if r.Of != part || r.JSON == "" {
			continue
		}
		if s, ok := r.Show(m, nil); ok {
			out[r.JSON] = finding{Value: s.Value, Standing: s.Standing, Why: supports(s.Why), Against: supports(s.Against)}
		}
	}
	return out
}

// placeFindings are what is known of a place and of what sits in it.
func placeFindings(m *machine.Machine, p *machine.Place) object {
	out := object{{"name", p.Name}, {"firmware_handle", orNull(p.FirmwareHandle)},
		{"eeprom_address", orNull(p.EEPROMAddress)}}
	for _, r := range machine.Rows() {
		if s, ok := r.Show(m, p); ok && r.Of == machine.OfPlace && r.JSON != "" {
			out = append(out, member{r.JSON,
				finding{Value: s.Value, Standing: s.Standing, Why: supports(s.Why), Against: supports(s.Against)}})
		}
	}
	return append(out, member{"state", orNull(string(p.State))}, member{"module", moduleJSON(*p)})
}

// moduleJSON gives every fact of what sits in a place, and how the board runs it.
func moduleJSON(p machine.Place) object {
	if p.Module == nil {
		return nil
	}
	var out object
	for _, r := range module.Rows() {
		s := r.Show(p.Module)
		f := finding{Value: s.Value, Standing: s.Standing, Why: supports(s.Why), Against: supports(s.Against)}
		if r.Key == "volts" { // what the board gives it: of a supply that it could run at beside, the table of modules tells
			f = found(p.Supplied, volts)
		}
		out = append(out, member{r.Key, f})
	}
	return append(out, member{"running_mts", found(p.Running, plainly[jedec.Rate])})
}
