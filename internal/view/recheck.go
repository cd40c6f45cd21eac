package view

import (
	"fmt"
	"strings"

	"epitome/core/recheck"
)

// Rechecked lays out prediction against fact.
func (p *Page) Rechecked(r recheck.Result) {
	switch {
	case r.Other != "":
		p.Headline("Another machine: " + r.Other + ". Nothing is held against it.")
		return
	case !r.Told():
		p.Headline("Can't be told: the second card does not say enough of the memory.")
	case r.Fine():
		p.Headline(fmt.Sprintf("As predicted: %v, every module is there.", r.Total))
	default:
		p.Headline(fmt.Sprintf("Not as predicted: %s.", count(len(r.Differences), "difference")))
	}
	p.Blank()
	var rows [][]string
	for _, s := range r.Seats {
		mark := "ok"
		if !s.Right {
			mark = "LOOK"
			if s.Found == "not known" || s.Found == "not listed" {
				mark = "?"
			}
		}
		rows = append(rows, []string{s.Channel, s.Place, s.Predicted, s.Found, mark})
	}
	for _, c := range r.Right {
		if !inSeats(r, c.About) {
			rows = append(rows, []string{"", c.About, c.Predicted, c.Found, "ok"})
		}
	}
	for _, d := range r.Differences {
		if !inSeats(r, d.About) {
			rows = append(rows, []string{"", d.About, d.Predicted, d.Found, "LOOK"})
		}
	}
	p.Table([]Column{{"Ch.", Left, 0}, {"", Left, 26}, {"Predicted", Right, 0}, {"Found", Right, 0}, {"", Left, 0}}, rows)
	for _, d := range r.Differences {
		p.Blank()
		p.Heading(fmt.Sprintf("%s: %s predicted, %s found. Look, in this order:", d.About, d.Predicted, d.Found))
		for i, c := range d.Causes {
			p.Para(6, fmt.Sprintf("  %d. ", i+1), sentence(c)+".")
		}
	}
	if len(r.NotRead) > 0 {
		p.Blank()
		p.Para(10, "Not read: ", strings.Join(r.NotRead, "; ")+".")
	}
}

func inSeats(r recheck.Result, name string) bool {
	for _, s := range r.Seats {
		if s.Place == name {
			return true
		}
	}
	return false
}

// RecheckJSON returns the value that recheck --format json writes.
func RecheckJSON(r recheck.Result) any {
	type seat struct {
		Place     string `json:"place"`
		Predicted string `json:"predicted"`
		Found     string `json:"found"`
		Right     bool   `json:"right"`
	}
	type difference struct {
		About     string   `json:"about"`
		Predicted string   `json:"predicted"`
		Found     string   `json:"found"`
		Causes    []string `json:"causes"`
	}
	seats, differences := []seat{}, []difference{}
	for _, s := range r.Seats {
		seats = append(seats, seat{s.Place, s.Predicted, s.Found, s.Right})
	}
	for _, d := range r.Differences {
		differences = append(differences, difference(d))
	}
	result := "as predicted"
	switch {
	case !r.Told():
		result = "cannot tell"
	case !r.Fine():
		result = "differs"
	}
	return map[string]any{"schema": "epitome.recheck.v1", "result": result, "other_machine": orNull(r.Other),
		"total_mib": r.Total, "places": seats, "differences": differences, "not_read": append([]string{}, r.NotRead...)}
}
