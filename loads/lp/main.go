// Command lp writes the question "the least money for a size" of a made-up
// price list in the CPLEX-LP format, for a general integer-programming solver,
// and prints what our own search comes to. It is a bench tool: see compare.sh
// beside it.
//
//	go run ./loads/lp LINES REACH-GB > problem.lp
package main

import (
	"bufio"
	"fmt"
	"os"
	"strconv"
	"time"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/propose"
	"epitome/core/stock"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
)

const sockets = 4

// workshop is a machine with four empty sockets on two channels, of which
// everything is known.
func workshop() (machine.Machine, ceiling.Limits) {
	firm := func(a machine.Attach) fact.Fact[machine.Attach] {
		return fact.Known(a)
	}
	m := machine.Machine{
		Processor: fact.Known("Petrel P5"),
		OS:        fact.Known("Windows 11 Pro 64-bit"),
	}
	for _, name := range []string{"A1", "A2", "B1", "B2"} {
		m.Places = append(m.Places, machine.Place{Name: name, Channel: fact.Known(name[:1]), Attach: firm(machine.Socket),
			Filled: fact.Known(false), Form: fact.Known(jedec.DIMM)})
	}
	m.Totals.Sockets = fact.Known(sockets)
	m.Totals.Soldered = fact.Known(jedec.Capacity(0))
	o, faults := catalogue.ParseOverlay("bench", []byte(`epitome-catalogue: 1
processors:
  - brand: Petrel
    basis: bench
    takes: [{generation: DDR4, channels: 2, slots_per_channel: 2, rate: 3200, rate_dual_rank: 3200,
      rate_two_modules: 3200, rate_two_dual_rank: 3200, maximum: 128GB,
      largest_die: 16Gbit, x4: no, x16: yes, ecc: none, volts: 1.2}]
`))
	if len(faults) > 0 {
		panic(faults[0])
	}
	return m, ceiling.Of(m, catalogue.Catalogue{}.With(o))
}

// list is a price list with kits, quantities and minimum orders.
func list(lines int) (offers []propose.Offer) {
	var sticks []module.Module
	for _, text := range []string{"4GB 1Rx16 PC4-3200AA-UC0-11", "8GB 1Rx8 PC4-3200AA-UA2-11",
		"16GB 1Rx8 PC4-3200AA-UA2-11", "16GB 2Rx8 PC4-3200AA-UB1-11", "32GB 2Rx8 PC4-3200AA-UB1-11"} {
		s, err := module.Parse(text)
		if err != nil {
			panic(err)
		}
		sticks = append(sticks, s)
	}
	for i := range lines {
		s := sticks[i%len(sticks)]
		gb := int(s.Capacity.Or(0) / jedec.GiB)
		offers = append(offers, propose.Offer{SKU: fmt.Sprint("L", i), Text: fmt.Sprint(s.From, " #", i), Stick: &s,
			Pieces: 1 + i%7/5, MinOrder: 1 + i%11/10,
			Quantity: maybe.Just(1 + i*31%4), Price: stock.Money((900 + 170*gb + (i*7919)%977) * (1 + i%7/5))})
	}
	return offers
}

func main() {
	if len(os.Args) != 3 {
		fmt.Fprintln(os.Stderr, "usage: lp LINES REACH-GB > problem.lp")
		os.Exit(2)
	}
	lines, err1 := strconv.Atoi(os.Args[1])
	reach, err2 := strconv.Atoi(os.Args[2])
	if err1 != nil || err2 != nil {
		fmt.Fprintln(os.Stderr, "lp: two whole numbers are wanted")
		os.Exit(2)
	}
	offers := list(lines)
	write(offers, reach)
	m, l := workshop()
	began := time.Now()
	r, err := propose.Search(m, l, propose.Goal{Reach: maybe.Just(jedec.Capacity(reach) * jedec.GiB), Offers: offers}, nil)
	took := time.Since(began)
	if err != nil {
		fmt.Fprintln(os.Stderr, "search:", err)
		return
	}
	all := append(r.Proposals, r.Unproven...)
	least := all[0].Cost
	for _, q := range all {
		least = min(least, q.Cost)
	}
	fmt.Fprintf(os.Stderr, "search: least money %d hundredths, %v\n", int64(least), took.Round(time.Microsecond))
}

// write states the problem: u units of each offer, w whether any is bought, at
// most three kinds, no more modules than sockets.
func write(offers []propose.Offer, reach int) {
	w := bufio.NewWriter(os.Stdout)
	defer w.Flush()
	fmt.Fprint(w, "Minimize\n cost:")
	for i, o := range offers {
		fmt.Fprintf(w, " + %d u%d\n", int64(o.Price), i)
	}
	fmt.Fprint(w, "Subject To\n reach:")
	for i, o := range offers {
		fmt.Fprintf(w, " + %d u%d\n", int(o.Stick.Capacity.Or(0)/jedec.GiB)*o.Pieces, i)
	}
	fmt.Fprintf(w, " >= %d\n sockets:", reach)
	for i, o := range offers {
		fmt.Fprintf(w, " + %d u%d\n", o.Pieces, i)
	}
	fmt.Fprintf(w, " <= %d\n", sockets)
	kinds := make(map[string]int)
	for i, o := range offers {
		key := fmt.Sprint(o.Stick.Capacity.Or(0), o.Stick.Ranks.Or(0))
		if _, ok := kinds[key]; !ok {
			kinds[key] = len(kinds)
		}
		fmt.Fprintf(w, " most%d: u%d - %d w%d <= 0\n least%d: u%d - %d w%d >= 0\n kind%d: w%d - k%d <= 0\n",
			i, i, o.Quantity.Or(sockets), i, i, i, o.MinOrder, i, i, i, kinds[key])
	}
	fmt.Fprint(w, " kinds:")
	for k := range len(kinds) {
		fmt.Fprintf(w, " + k%d", k)
	}
	fmt.Fprint(w, " <= 3\nGeneral\n")
	for i := range offers {
		fmt.Fprintf(w, " u%d\n", i)
	}
	fmt.Fprint(w, "Binary\n")
	for i := range offers {
		fmt.Fprintf(w, " w%d\n", i)
	}
	for k := range len(kinds) {
		fmt.Fprintf(w, " k%d\n", k)
	}
	fmt.Fprint(w, "End\n")
}
