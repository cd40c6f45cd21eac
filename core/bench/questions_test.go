package bench_test

import (
	"fmt"
	"strings"
	"testing"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/need"
	"epitome/core/smbios/compose"
	"epitome/golden"
)

// What is asked at a visit, and what is said of looks, by what is known: each kind of case, with each form that
// firmware writes, and with what people saw.
func TestWhatIsAsked(t *testing.T) {
	var page strings.Builder
	for _, chassis := range []byte{0x0A, 0x03} {
		for _, form := range []byte{0x0D, 0x09, 0x0B, 0x02} {
			for _, hand := range []string{"", "sockets: 2", "machine: {model: Gull 15}",
				"places: [{name: DIMM A, attach: socket}, {name: DIMM B, attach: socket}]",
				"places: [{name: DIMM A, attach: soldered}]",
				"places: [{name: DIMM A, attach: socket, takes: SO-DIMM, holds: 8GB 1Rx8 PC4-2400T-SA1-11}]"} {
				for _, named := range []bool{true, false}[:1+len(hand)/60] {
					id := compose.Identity{ChassisKind: chassis}
					if named {
						id.Maker, id.Product = "Halyard", "Gull 14"
					}
					s := append(id.Structures(), compose.Array(0x1000, 32<<20, 2),
						compose.Device{Handle: 1, Array: 0x1000, MiB: 8192, Form: form, Type: 0x1A, Locator: "DIMM A"}.Structure(),
						compose.Device{Handle: 2, Array: 0x1000, Form: form, Locator: "DIMM B"}.Structure())
					c := card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)}}}
					if hand != "" {
						c.Readings = append(c.Readings,
							card.Reading{Kind: card.Hand, Source: "hand", Data: []byte("epitome-hand: 1\n" + hand + "\n")})
					}
					b := bench.New(c, catalogue.Catalogue{})
					fmt.Fprintf(&page, "## chassis %#x, form %#x, named %v, %s\n", chassis, form, named, hand)
					v := b.Visit(bench.Sitting{Policy: need.BuiltIn()}, nil)
					for _, q := range v.Questions() {
						fmt.Fprintf(&page, "%s (%s=%s)\n", q.Text, q.Fact, q.Example)
					}
					fmt.Fprintf(&page, "next: %s\n", b.Next())
				}
			}
		}
	}
	golden.Compare(t, "testdata/questions.txt", page.String())
}
