package propose

import (
	"bytes"
	"cmp"
	_ "embed"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"sync"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
)

// A Scale is what a technician weighs beside the price, each with its reason. The shares are of money: see choice.yaml.
type Scale struct {
	Version   int    `yaml:"epitome-choice"`
	TakenOut  Weight `yaml:"taken_out"`
	Used      Weight `yaml:"used"`
	Doubt     Weight `yaml:"doubt"`
	Announced Weight `yaml:"announced"`
	Uneven    Weight `yaml:"uneven"`
	Slowed    Weight `yaml:"slowed"`
	Slower    Weight `yaml:"slower"`
	Faster    Weight `yaml:"faster"`
	Odd       Weight `yaml:"odd"`
	Unlike    Weight `yaml:"unlike"`
	Beyond    Weight `yaml:"beyond"`
	Far       Weight `yaml:"far_beyond"`
	ForMoney  Weight `yaml:"for_money"`
	Socket    Weight `yaml:"socket"`
}

// A Weight is one share, percent, 0 to 1000.
type Weight struct {
	Percent int64  `yaml:"percent"`
	Why     string `yaml:"why"`
}

//go:embed choice.yaml
var builtInScale []byte

// BuiltInScale returns the scale that Epitome comes with, and the text of its file.
func BuiltInScale() (Scale, []byte) {
	s, err := ParseScale(builtInScale)
	if err != nil {
		panic(err) // a test parses it
	}
	return s, bytes.Clone(builtInScale)
}

// ordinaryScale is the built-in one, read once.
var ordinaryScale = sync.OnceValue(func() Scale { s, _ := BuiltInScale(); return s })

// ErrScale: a file of weights can't be used.
var ErrScale = errors.New("the weights can't be used")

// ParseScale reads a file of weights. All of them are wanted, each with its reason: one that is left out would be taken
// for nothing.
func ParseScale(text []byte) (s Scale, err error) {
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(&s); err != nil {
		return s, fmt.Errorf("%w: %s", ErrScale, strings.TrimPrefix(err.Error(), "yaml: "))
	}
	if s.Version != 1 {
		return s, fmt.Errorf("%w: epitome-choice is %d; this version reads 1", ErrScale, s.Version)
	}
	v := reflect.ValueOf(s)
	for i := range v.NumField() {
		w, ok := v.Field(i).Interface().(Weight)
		name := v.Type().Field(i).Tag.Get("yaml")
		switch {
		case !ok:
		case w.Why == "":
			return s, fmt.Errorf("%w: %s is missing, or has no why; each weight says its reason", ErrScale, name)
		case w.Percent < 0 || w.Percent > 1000:
			return s, fmt.Errorf("%w: %s is %d percent; 0 to 1000 are wanted", ErrScale, name, w.Percent)
		}
	}
	return s, nil
}

// of is a share of an amount, for a part of it: num of den.
func (w Weight) of(amount stock.Money, num, den int64) stock.Money {
	if den == 0 {
		return 0
	}
	return stock.Money(int64(amount) * w.Percent / 100 * num / den)
}

// A Sum is one line of what a proposal truly costs; what is gained is below zero.
type Sum struct {
	Of   string
	Cost stock.Money
}

// True is what a proposal truly costs: its price, and what a technician weighs beside it.
func (p Proposal) True() stock.Money { return total(p.Sums) }

// GivesUp are the lines beside the price that cost something.
func (p Proposal) GivesUp() (list []Sum) {
	for _, x := range p.Sums[min(1, len(p.Sums)):] {
		if x.Cost > 0 {
			list = append(list, x)
		}
	}
	return list
}

func total(sums []Sum) (all stock.Money) {
	for _, x := range sums {
		all += x.Cost
	}
	return all
}

// sums are what a set truly costs, line by line. All of them grow, or stay, where a set is worse in any figure that
// sets are compared by: what is beaten truly costs no less.
func (s *search) sums(v vector) []Sum {
	w := &s.scale
	rate := func(better, worse jedec.Rate) int64 {
		if better == 0 || worse == 0 {
			return 0 // not known
		}
		return max(0, int64(better)-int64(worse))
	}
	likely := w.Announced
	if v.sure == rule.Likely {
		likely = w.Doubt
	}
	doubt := likely.of(max(0, v.cost), map[bool]int64{true: 1}[v.proof == rule.Likely], 1)
	wanted := max(s.goal.Reach.Or(0), s.have)
	beyond, far, money := v.total-min(wanted, v.total), jedec.Capacity(0), jedec.Capacity(0)
	if !s.goal.Reach.Known() {
		beyond, money = 0, beyond
	}
	beyond, far = min(beyond, wanted), beyond-min(beyond, wanted)
	lost, below := rate(s.freely, v.rate), min(rate(s.now.rate, v.rate), 1)
	return []Sum{
		{"price", v.cost},
		{"good modules removed", w.TakenOut.of(v.waste, 1, 1)},
		{"used modules", w.Used.of(max(0, v.cost), int64(v.used), 1)},
		{"likely, not sure", doubt},
		{"memory in single channel", w.Uneven.of(s.basis, int64(v.lone/jedec.MiB), int64(v.total/jedec.MiB))},
		{"slower than now", w.Slowed.of(s.basis, below, 1)},
		{"speed given up", w.Slower.of(s.basis, lost, int64(s.freely))},
		{"faster than now", -w.Faster.of(s.basis, min(rate(v.rate, s.freely), int64(s.freely)), int64(s.freely))},
		{"channels filled unevenly", w.Odd.of(s.basis, int64(v.odd/jedec.MiB), int64(v.total/jedec.MiB))},
		{"modules that cost each other something", w.Unlike.of(s.basis, int64(v.unlike), 1)},
		{"memory beyond the goal", -w.Beyond.of(s.priceOf(beyond), 1, 1) - w.Far.of(s.priceOf(far), 1, 1)},
		{"memory for the money", -w.ForMoney.of(s.priceOf(money), 1, 1)},
		{"slots left empty", -w.Socket.of(s.basis, int64(v.free), 1)},
	}
}

// truly is what a set truly costs.
func (s *search) truly(v vector) stock.Money { return total(s.sums(v)) }

// priceOf is what so much memory is worth.
func (s *search) priceOf(size jedec.Capacity) stock.Money {
	return stock.Money(int64(s.eachGiB) * int64(size/jedec.MiB) / 1024)
}

// value sets what memory is worth: a GiB by the median of the offers that fit, one a class; the basis of shares; and
// each module that can be taken out by the cheapest of its like, else by its size.
func (s *search) value() {
	var each []stock.Money
	like := make(map[jedec.Capacity]stock.Money)
	for _, c := range s.classes {
		size := c.kind.Capacity
		if size == 0 || c.rare() {
			continue
		}
		for _, o := range c.offers {
			one := o.Price / stock.Money(o.Pieces)
			if known, ok := like[size]; !ok || one < known {
				like[size] = one
			}
		}
		each = append(each, stock.Money(int64(c.offers[0].Price)/int64(c.offers[0].Pieces)*1024/int64(size/jedec.MiB)))
	}
	s.eachGiB = 0
	if len(each) > 0 {
		slices.Sort(each)
		s.eachGiB = each[len(each)/2]
	}
	s.basis = s.priceOf(max(s.goal.Reach.Or(0), s.have))
	for i := range s.owned {
		o := &s.owned[i]
		worth, ok := like[o.kind.Capacity]
		if !ok {
			worth = s.priceOf(o.kind.Capacity)
		}
		if o.worth = 0; o.fitted {
			o.worth = worth
		}
	}
}

// rare reports whether a class is of modules that are hard to get.
func (c *class) rare() bool { return len(c.offers) > 0 && c.offers[0].Rare }

// checks reports whether a module has check bits.
func checks(m *module.Module) bool { return m.ECC.Or(false) }

// recommends orders sets as a technician does: error correction is kept, and then by what they truly cost.
func (s *search) recommends(a, b vector) int {
	if s.goal.Cheapest {
		return cmp.Or(cmp.Compare(a.sure, b.sure), cmp.Compare(a.cost, b.cost), cmp.Compare(s.truly(a), s.truly(b)),
			cmp.Compare(a.lone, b.lone), cmp.Compare(b.total, a.total), cmp.Compare(a.proof, b.proof),
			cmp.Compare(b.rate, a.rate))
	}
	return cmp.Or(cmp.Compare(a.checks, b.checks), cmp.Compare(s.truly(a), s.truly(b)), cmp.Compare(a.proof, b.proof),
		cmp.Compare(a.cost, b.cost), cmp.Compare(a.odd, b.odd), cmp.Compare(a.gone, b.gone), cmp.Compare(a.lone, b.lone),
		cmp.Compare(b.total, a.total), cmp.Compare(b.rate, a.rate), cmp.Compare(a.shabby, b.shabby))
}
