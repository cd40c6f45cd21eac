package propose

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/stock"
)

// priceList makes a list of so many lines: sizes, grades, layouts, kits and
// prices as a supplier has them, many lines of one class.
func priceList(b testing.TB, lines int) (offers []Offer) {
	var sticks []module.Module
	for _, x := range []string{"4GB 1Rx8 PC4-%s-UA2-11", "4GB 1Rx16 PC4-%s-UC0-11", "8GB 1Rx8 PC4-%s-UA2-11",
		"8GB 2Rx8 PC4-%s-UB1-11", "16GB 2Rx8 PC4-%s-UA2-11", "16GB 1Rx8 PC4-%s-UA2-11", "8GB 1Rx8 PC4-%s-SA2-11",
		"8GB 1Rx8 PC4-%s-EA1-11", "16GB 2Rx4 PC4-%s-RA1-11"} {
		for _, bin := range []string{"2133P", "2133R", "2400R", "2400T", "2400U", "2666V", "2666W", "3200AA"} {
			sticks = append(sticks, known(b, fmt.Sprintf(x, bin)))
		}
	}
	for i := range lines {
		s := &sticks[i%len(sticks)] // lines that come to the same share it, as in a list that was read
		size := int(s.Capacity.Or(0) / jedec.GiB)
		o := Offer{SKU: fmt.Sprint("L", i), Text: fmt.Sprint(s.From, " #", i), Stick: s, Pieces: 1 + i/len(sticks)%3/2,
			MinOrder: 1, Price: stock.Money(600 + 190*size + 37*(i*7919%101) + int(s.Grade().Or(jedec.Grade{}).Rate)/10)}
		if i%4 > 0 {
			o.Quantity = maybe.Just(i % 9)
		}
		offers = append(offers, o)
	}
	return offers
}

func fourSockets() rig {
	return tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "A2 A", "B1 B|4GB 1Rx8 PC4-2133P-UA2-11", "B2 B"},
		"Windows 10 Pro 64-bit")
}

func BenchmarkFourSockets(b *testing.B) {
	m, l := fourSockets().Machine(b)
	for _, lines := range []int{100, 1000, 10_000, 100_000, 1_000_000} {
		g := Goal{Reach: maybe.Just(32 * jedec.GiB), Offers: priceList(b, lines)}
		b.Run(fmt.Sprint(lines, " lines"), func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := Search(m, l, g, nil); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

func BenchmarkSixteenSockets(b *testing.B) {
	r := tower(strings.NewReplacer("channels: 2", "channels: 8", "maximum: 64GB", "maximum: 512GB").Replace(figures), nil,
		"Windows 10 Pro 64-bit")
	open := r
	for i, channel := range []string{"A", "B", "C", "D", "E", "F", "G", "H"} {
		fitted := ""
		if i < 4 {
			fitted = "|8GB 1Rx8 PC4-2400T-UA2-11"
		}
		r.Places = append(r.Places, channel+"1 "+channel+fitted, channel+"2 "+channel)
		open.Places = append(open.Places, fmt.Sprint("SLOT", 2*i, " -", fitted), fmt.Sprint("SLOT", 2*i+1, " -"))
	}
	for name, r := range map[string]rig{"channels named": r, "every channel open": open} {
		m, l := r.Machine(b)
		g := Goal{Reach: maybe.Just(128 * jedec.GiB), Offers: priceList(b, 10_000)}
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := Search(m, l, g, nil); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// BenchmarkUnlike is a machine with as many modules as sockets of which no two are alike: the hardest to deal, with a
// list of ten thousand lines and without one.
func BenchmarkUnlike(b *testing.B) {
	for _, sockets := range []int{16, 24, 32} {
		m, l := unlike(sockets).Machine(b)
		for _, lines := range []int{0, 10_000} {
			g := Goal{Reach: maybe.Just(m.Have() + 8*jedec.GiB), Offers: priceList(b, lines)}
			b.Run(fmt.Sprint(sockets, " sockets, ", lines, " lines"), func(b *testing.B) {
				for b.Loop() {
					if _, err := Search(m, l, g, nil); err != nil {
						b.Fatal(err)
					}
				}
			})
		}
	}
}

// unlike is a tower with so many sockets, two a channel, and a module in each of which no two are alike.
func unlike(sockets int) rig {
	r := tower(strings.NewReplacer("channels: 2", fmt.Sprint("channels: ", sockets/2), "maximum: 64GB", "maximum: 2TB").
		Replace(figures), nil, "Windows 10 Pro 64-bit")
	for i := range sockets {
		grade := []string{"2133P", "2400T", "2666V", "3200AA"}[i/9]
		layout := []string{"4GB 1Rx8", "8GB 1Rx8", "16GB 1Rx8", "8GB 2Rx8", "16GB 2Rx8", "32GB 2Rx8", "4GB 1Rx16",
			"8GB 1Rx16", "4GB 2Rx8"}[i%9]
		r.Places = append(r.Places, fmt.Sprintf("S%d %c|%s PC4-%s-UA2-11", i, 'A'+i/2, layout, grade))
	}
	return r
}

// However unlike the modules of a machine are, the search ends within its bound, shows something, and does not call it
// the best.
func TestUnlikeModulesAreDealtWithinABound(t *testing.T) {
	for _, sockets := range []int{16, 24, 32} {
		m, l := unlike(sockets).Machine(t)
		for _, lines := range []int{0, 1000} {
			s, err := survey(m, l, Goal{Reach: maybe.Just(m.Have() + 8*jedec.GiB), Offers: priceList(t, lines)})
			require.NoError(t, err)
			s.search()
			assert.Less(t, s.steps+s.judge.Work(), mostSteps+mostSteps/10, "%d sockets, %d lines", sockets, lines)
			assert.NotEmpty(t, s.front(), "%d sockets, %d lines", sockets, lines)
			r, err := Search(m, l, s.goal, nil)
			require.NoError(t, err)
			assert.False(t, r.Exact, "%d sockets, %d lines", sockets, lines)
			for _, p := range append(r.Proposals, r.Unproven...) {
				assert.LessOrEqual(t, len(p.Removes), sockets/2, "most of what is there stays")
			}
		}
	}
}
