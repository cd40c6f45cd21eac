package bench

import (
	"bytes"
	"encoding/gob"
	"runtime"
	"sync"

	"epitome/core/jedec"
	"epitome/core/propose"
	"epitome/core/stock"
)

// pools deals the items of a round to machines by what no rule would ever let pass:
// another generation, another form.
type pools struct {
	items  []roundItem
	priced bool
	mu     sync.Mutex
	dealt  map[[2]int]propose.Pool
}

func newPools(items []roundItem, priced bool) *pools {
	return &pools{items: items, priced: priced, dealt: make(map[[2]int]propose.Pool)}
}

// of is the pool of machines of a generation and a form. Numbers of offers are those of
// items, from 1.
func (p *pools) of(g jedec.Generation, f jedec.Form) propose.Pool {
	p.mu.Lock()
	defer p.mu.Unlock()
	key := [2]int{int(g), int(f)}
	if pool, ok := p.dealt[key]; ok {
		return pool
	}
	var listed, free []Offer
	for i := range p.items {
		x := &p.items[i]
		if own, ok := x.stick.Generation.Get(); ok && own != g {
			continue
		}
		if own, ok := x.stick.Form.Get(); ok && own != f {
			continue
		}
		o := Offer{Number: i + 1, Stick: &x.stick, Pieces: 1, MinOrder: 1, Text: x.stick.From}
		if len(x.lots) == 0 {
			free = append(free, o)
			continue
		}
		for k, l := range x.lots {
			each := (l.Price + stock.Money(l.Pieces) - 1) / stock.Money(l.Pieces)
			if k == 0 || each < o.Price {
				o.Price, o.Condition = each, l.Condition
			}
		}
		listed = append(listed, o)
	}
	pool := propose.NewPool(listed, free, p.priced)
	p.dealt[key] = pool
	return pool
}

// A Spread has the parts of a round worked on, each by one of those who share it.
type Spread interface {
	// Do has work done once for each part, and hands over what came of each in their
	// order. The error is that of work or of take.
	Do(doing string, parts int, work func(part int) ([]byte, error), take func(part int, came []byte) error) error
}

// Here spreads a round over the processors of this machine. Parts are handed over as soon
// as their turn comes, and no more are begun than a few ahead of it.
type Here struct{}

// Do is as [Spread] has it.
func (Here) Do(_ string, parts int, work func(int) ([]byte, error), take func(int, []byte) error) error {
	type done struct {
		came []byte
		err  error
	}
	workers := min(runtime.GOMAXPROCS(0), max(1, parts))
	turn := make(chan chan done, workers) // in the order of the parts
	ended := make(chan struct{})
	defer close(ended)
	go func() {
		defer close(turn)
		for part := range parts {
			one := make(chan done, 1)
			select {
			case turn <- one:
			case <-ended:
				return
			}
			go func() {
				came, err := work(part)
				one <- done{came, err}
			}()
		}
	}()
	part := 0
	for one := range turn {
		d := <-one
		if d.err != nil {
			return d.err
		}
		if err := take(part, d.came); err != nil {
			return err
		}
		part++
	}
	return nil
}

// pack and unpack write and read what came of a part.
func pack(v any) ([]byte, error) {
	var b bytes.Buffer
	err := gob.NewEncoder(&b).Encode(v)
	return b.Bytes(), err
}

func unpack(came []byte, into any) error { return gob.NewDecoder(bytes.NewReader(came)).Decode(into) }
