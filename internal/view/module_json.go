package view

import (
	"encoding/json"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"strconv"
)

type moduleListJSON struct {
	Schema  string   `json:"schema"`
	Modules []object `json:"modules"`
}

type profileJSON struct {
	Name  string               `json:"name"`
	Rate  jedec.Rate           `json:"rate_mts"`
	CL    maybe.Value[float64] `json:"cl"`
	TRCD  maybe.Value[int]     `json:"trcd"`
	TRP   maybe.Value[int]     `json:"trp"`
	TRAS  maybe.Value[int]     `json:"tras"`
	Volts maybe.Value[float64] `json:"volts"`
}

type hintJSON struct {
	Fact  string `json:"fact"`
	Value string `json:"value"`
	Why   string `json:"why"`
}

// An object is a JSON object whose members stand in an order of their own.
type object []member

type member struct {
	key   string
	value any
}

// MarshalJSON writes the members in their order, and null where there is no object.
func (o object) MarshalJSON() ([]byte, error) {
	if o == nil {
		return []byte("null"), nil
	}
	out := []byte{'{'}
	for i, m := range o {
		if i > 0 {
			out = append(out, ',')
		}
		value, err := json.Marshal(m.value)
		if err != nil {
			return nil, err
		}
		out = append(append(strconv.AppendQuote(out, m.key), ':'), value...)
	}
	return append(out, '}'), nil
}

// ModulesJSON returns the value that module --format json writes.
func ModulesJSON(sticks []module.Module) any {
	out := moduleListJSON{Schema: "epitome.module.v1", Modules: []object{}}
	for i := range sticks {
		s := stated(sticks[i])
		out.Modules = append(out.Modules, describedJSON(&s))
	}
	return out
}

func describedJSON(s *module.Module) object {
	j := object{{"from", s.From}, {"kind", s.Kind}, {"pieces", s.Pieces.Value()}}
	for _, r := range module.Rows() {
		switch r.Key {
		case "maker": // by its code: the name is a member of that
		case "maker_code":
			j = append(j, member{"maker", s.MakerCode.Or(jedec.MakerCode{})})
		case "chip_maker":
			j = append(j, member{r.Key, s.ChipMaker.Or(jedec.MakerCode{})})
		default:
			j = append(j, member{r.Key, r.Show(s).Value})
		}
	}
	profiles, choices, leaning := []profileJSON{}, []string{}, []hintJSON{}
	for _, q := range s.Profiles {
		profiles = append(profiles, profileJSON{q.Name, q.Rate, maybe.Map(q.CL, jedec.Latency.Clocks), q.TRCD, q.TRP,
			q.TRAS, maybe.Map(q.MilliVolts, volts)})
	}
	for _, x := range s.Choices {
		choices = append(choices, x.String())
	}
	for _, h := range s.Leaning {
		leaning = append(leaning, hintJSON(h))
	}
	return append(j, object{
		{"notes", append([]string{}, s.Notes...)}, {"checksum", s.Checksum}, {"profiles", profiles}, {"choices", choices},
		{"leaning", leaning}, {"unknown", append([]string{}, s.Unknown()...)},
	}...)
}

func volts(mv int) float64 { return float64(mv) / 1000 }
