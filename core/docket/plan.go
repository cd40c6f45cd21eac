// Package docket makes the slip to buy from and the sheet to fit by: what to
// buy in every spelling that a shop may use, what may be taken instead and at
// what penalty, what looks alike and must be avoided, where each module goes,
// and the figures to expect afterwards.
package docket

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A Plan is the proposals that were worked out and kept on a card. It holds
// what was decided, not what follows from it.
type Plan struct {
	Version  int    `yaml:"epitome-plan"`
	Goal     string `yaml:"goal"`
	Currency string `yaml:"currency,omitempty"`
	Lists    []List `yaml:"lists,omitempty"` // the price lists it rests on
	Ways     []Way  `yaml:"ways"`
}

// A List is a price list, with the sum of what it said. Its path is nobody's
// business that gets the card, and nothing that a card names is opened.
type List struct {
	Name   string `yaml:"name"`
	SHA256 string `yaml:"sha256"`
}

// A Way is one proposal.
type Way struct {
	Number int      `yaml:"number"`
	Picks  []string `yaml:"picks,omitempty,flow"`
	Pull   []string `yaml:"pull,omitempty,flow"` // places to be emptied
	Put    []Put    `yaml:"put,omitempty"`
	Buys   []Bought `yaml:"buys,omitempty"`
	Cost   string   `yaml:"cost,omitempty"`
}

// A Put is a stick and the place it goes to, or a fitted module that moves.
type Put struct {
	Place string `yaml:"place"`
	Stick string `yaml:"stick,omitempty"`
	From  string `yaml:"from,omitempty"`
	SKU   string `yaml:"sku,omitempty"`
	Offer int    `yaml:"offer,omitempty"` // that it was bought by, as in Bought; 0 for one at hand
}

// A Bought is one line of the buying list.
type Bought struct {
	Offer    int    `yaml:"offer,omitempty"` // which one it is, whatever its text
	Units    int    `yaml:"units"`
	Pieces   int    `yaml:"pieces,omitempty"`
	Text     string `yaml:"text"`
	Row      int    `yaml:"row,omitempty"` // of the price list
	SKU      string `yaml:"sku,omitempty"`
	Supplier string `yaml:"supplier,omitempty"`
	State    string `yaml:"state,omitempty"` // "used", "refurbished"; empty for new and where nobody says
	Price    string `yaml:"price,omitempty"`
}

// planVersion is the version of plans that this package writes and reads.
const planVersion = 1

// maxPlan bounds a plan, in bytes: a thousand proposals.
const maxPlan = 512 << 10

// ErrPlan is what every error of ParsePlan wraps.
var ErrPlan = errors.New("plan can't be used")

// PlanOf keeps proposals as a plan.
func PlanOf(r propose.Result, lists []List) Plan {
	p := Plan{Version: planVersion, Currency: r.Goal.Currency, Lists: lists}
	if size, ok := r.Goal.Reach.Get(); ok {
		p.Goal = "reach " + size.String()
	}
	if rate, ok := r.Goal.Rate.Get(); ok {
		p.Goal = strings.TrimSpace(fmt.Sprintf("%s speed %v", p.Goal, rate))
	}
	if m, ok := r.Goal.Spend.Get(); ok {
		p.Goal = strings.TrimSpace(p.Goal + " spend " + m.String())
	}
	for _, q := range append(append([]propose.Proposal(nil), r.Proposals...), r.Unproven...) {
		p.Ways = append(p.Ways, wayOf(r, q))
	}
	return p
}

// PlanOfWay keeps one proposal, of a round over many machines, as a plan.
func PlanOfWay(w Way, goal, currency string, lists []List) Plan {
	return Plan{Version: planVersion, Goal: goal, Currency: currency, Lists: lists, Ways: []Way{w}}
}

func wayOf(r propose.Result, q propose.Proposal) Way {
	w := Way{Number: q.Number, Picks: q.Picks}
	if r.Priced {
		w.Cost = q.Cost.String()
	}
	for _, m := range q.Removes {
		w.Pull = append(w.Pull, m.Place)
	}
	for _, m := range q.Keeps {
		if m.From != "" {
			w.Put = append(w.Put, Put{Place: m.Place, From: m.From})
		}
	}
	bought := make(map[int]Bought)
	for _, b := range q.Buys {
		one := b.Text
		if b.Stick.Kind == "specification" {
			one = b.Stick.From
		}
		x := Bought{Offer: b.Number, Units: b.Units, Pieces: b.Pieces, Text: one, Row: b.Row, SKU: b.SKU,
			Supplier: b.Supplier, State: stateOf(b.Condition)}
		if r.Priced {
			x.Price = b.Price.String()
		}
		w.Buys, bought[b.Number] = append(w.Buys, x), x
	}
	for _, seat := range q.Trial.Seats {
		if seat.New {
			put := Put{Place: seat.Place, Stick: seat.Stick.From}
			if x, ok := bought[seat.Stick.Mark]; ok {
				put.Stick, put.SKU, put.Offer = x.Text, x.SKU, x.Offer
			}
			w.Put = append(w.Put, put)
		}
	}
	return w
}

// Encode writes the plan as YAML that ParsePlan reads back.
func (p Plan) Encode() ([]byte, error) { return yaml.Marshal(p) }

// ParsePlan reads a plan. Errors wrap ErrPlan.
func ParsePlan(text []byte) (Plan, error) {
	var p Plan
	if len(text) > maxPlan {
		return p, fmt.Errorf("%w: %d KiB; up to %d are read", ErrPlan, len(text)>>10, maxPlan>>10)
	}
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(&p); err != nil && !errors.Is(err, io.EOF) {
		return p, fmt.Errorf("%w: %s", ErrPlan, plain.Decoding(err))
	}
	if p.Version != planVersion {
		return p, fmt.Errorf("%w: epitome-plan: %d; this program reads %d", ErrPlan, p.Version, planVersion)
	}
	return p, nil
}

// Way returns the proposal of a number; the error lists those that there are.
func (p Plan) Way(number int) (Way, error) {
	var numbers []string
	for _, w := range p.Ways {
		if w.Number == number {
			return w, nil
		}
		numbers = append(numbers, fmt.Sprint(w.Number))
	}
	return Way{}, fmt.Errorf("there is no proposal %d on the card; there are %s", number, strings.Join(numbers, ", "))
}

// Trial turns a way into what a trial takes. The error says which stick can't
// be read.
func (w Way) Trial() (trial.Plan, error) {
	plan := trial.Plan{Pull: append([]string(nil), w.Pull...)}
	for _, put := range w.Put {
		if put.From != "" {
			plan.Put = append(plan.Put, trial.Put{Place: put.Place, From: put.From})
			continue
		}
		s, err := module.Parse(put.Stick)
		if err != nil {
			return plan, fmt.Errorf("%w: the stick in %s: %w", ErrPlan, put.Place, err)
		}
		one := s.Apart()[0]
		one.Mark = put.Offer
		plan.Put = append(plan.Put, trial.Put{Place: put.Place, Stick: one})
	}
	return plan, nil
}

// stateOf is the condition where it is to be said on a slip.
func stateOf(c stock.Condition) string {
	if c == stock.Used || c == stock.Refurbished {
		return string(c)
	}
	return ""
}
